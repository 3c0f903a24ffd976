using System.Diagnostics;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

/// <summary>What is written here, read by a program of another family: the wave module of Python's own library.</summary>
public sealed class IndependentEyesTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-eyes-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static JsonElement Python(string program, string path)
    {
        using var process = Process.Start(new ProcessStartInfo("python3", ["-c", program, path]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var output = process.StandardOutput.ReadToEnd();
        var errors = process.StandardError.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, errors);
        return JsonDocument.Parse(output).RootElement.Clone();
    }

    private string Put(string name, byte[] bytes)
    {
        var path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, bytes);
        return path;
    }

    [Theory]
    [InlineData(SampleEncoding.Integer16, 1)]
    [InlineData(SampleEncoding.Integer24, 1)]
    [InlineData(SampleEncoding.Integer24, 2)]
    [InlineData(SampleEncoding.Integer32, 2)]
    public void A_wave_file_holds_its_frames(SampleEncoding encoding, int channels)
    {
        var layout = new PcmLayout(encoding, false, channels, SampleRate.Hz48000, 0, 101);
        var sound = new byte[layout.DataBytes];
        new Random(1).NextBytes(sound);
        byte[] file = [.. WaveWriter.Head(layout, new BroadcastExtension("d", "o", 5), [new CuePoint(1, 3, "c")]), .. sound, .. new byte[sound.Length & 1]];
        var told = Python("import sys,wave,json,hashlib\nw=wave.open(sys.argv[1])\nb=w.readframes(10**6)\nprint(json.dumps([w.getnchannels(),w.getsampwidth(),w.getframerate(),w.getnframes(),hashlib.sha256(b).hexdigest()]))", Put("t.wav", file));
        Assert.Equal((channels, encoding.Bytes(), 48_000, 101), (told[0].GetInt32(), told[1].GetInt32(), told[2].GetInt32(), told[3].GetInt32()));
        Assert.Equal(Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(sound)), told[4].GetString());
    }

    /// <summary>Letters and marks of many scripts in any order, and each assigned character alone.</summary>
    private static IEnumerable<string> Texts()
    {
        (int From, int To)[] ranges = [(0x41, 0x24F), (0x300, 0x36F), (0x370, 0x52F), (0x591, 0x65F), (0x900, 0x9FF), (0x1100, 0x11FF), (0x1E00, 0x1FFF), (0xAC00, 0xAD00), (0x1D15E, 0x1D1C0)];
        var random = new Random(7);
        for (var i = 0; i < 20_000; i++)
        {
            yield return string.Concat(Enumerable.Range(0, random.Next(1, 9)).Select(_ =>
            {
                var (from, to) = ranges[random.Next(3) == 0 ? 1 : random.Next(ranges.Length)];
                return new System.Text.Rune(random.Next(from, to + 1)).ToString();
            }));
        }

        for (var point = 0x20; point < 0x30000; point++)
        {
            if (System.Text.Rune.IsValid(point) && System.Text.Rune.GetUnicodeCategory(new System.Text.Rune(point)) != System.Globalization.UnicodeCategory.OtherNotAssigned)
            {
                yield return new System.Text.Rune(point).ToString();
            }
        }
    }

    [Fact]
    public void Composed_text_is_what_another_library_composes()
    {
        var texts = Texts().ToList();
        const string program = """
            import sys, json, unicodedata as u
            known = lambda t: all(u.category(c) != 'Cn' for c in t)
            print(json.dumps([u.normalize('NFC', t) if known(t) else None for t in json.load(open(sys.argv[1], encoding='utf-8'))]))
            """;
        var told = Python(program, Put("texts.json", JsonSerializer.SerializeToUtf8Bytes(texts)));
        var compared = texts.Zip(told.EnumerateArray()).Where(p => p.Second.ValueKind != JsonValueKind.Null).ToList();
        Assert.InRange(compared.Count, 100_000, texts.Count);
        Assert.All(compared, p => Assert.Equal(p.Second.GetString(), Core.Naming.Composed.Of(p.First)));
        Assert.All(compared.Take(20_000), p => Assert.Equal(p.Second.GetString(), Core.Naming.Composed.Of(Core.Naming.Composed.Of(p.First))));
    }

    // Reads a MIDI file by nothing but the page that describes the format; shares no line with the program.
    private const string Walk = """
        import sys, json
        b = open(sys.argv[1], 'rb').read()
        assert b[:4] == b'MThd' and int.from_bytes(b[4:8], 'big') == 6
        kind, count, division = (int.from_bytes(b[i:i+2], 'big') for i in (8, 10, 12))
        at, tracks = 14, []
        def number():
            global at
            v = 0
            while True:
                c = b[at]; at += 1
                v = v << 7 | c & 127
                if c < 128: return v
        while at < len(b):
            assert b[at:at+4] == b'MTrk'
            end = at + 8 + int.from_bytes(b[at+4:at+8], 'big'); at += 8
            tick, events = 0, []
            while at < end:
                tick += number()
                status = b[at]; at += 1
                assert status >= 128
                if status == 0xFF:
                    meta = b[at]; at += 1
                    n = number(); events.append([tick, status, meta] + list(b[at:at+n])); at += n
                elif status in (0xF0, 0xF7):
                    n = number(); events.append([tick, status, 0] + list(b[at:at+n])); at += n
                else:
                    n = 1 if status & 0xF0 in (0xC0, 0xD0) else 2
                    events.append([tick, status, 0] + list(b[at:at+n])); at += n
            assert at == end and events[-1][1:3] == [0xFF, 0x2F]
            tracks.append(events)
        assert len(tracks) == count
        print(json.dumps({'type': kind, 'division': division, 'tracks': tracks}))
        """;

    [Fact]
    public void A_midi_file_is_walked_event_by_event()
    {
        foreach (var name in new[] { "suite-type-1", "suite-type-0", "suite-96", "sysex", "texts", "running-status" })
        {
            var file = SmfReader.Read(Fixtures.Open($"midi/{name}.mid"), name);
            var told = Python(Walk, Put("t.mid", SmfWriter.Write(file)));
            Assert.Equal((file.Type, file.TicksPerQuarter), (told.GetProperty("type").GetInt32(), told.GetProperty("division").GetInt32()));
            var tracks = told.GetProperty("tracks").EnumerateArray().ToList();
            Assert.Equal(file.Tracks.Count, tracks.Count);
            for (var t = 0; t < tracks.Count; t++)
            {
                var meant = file.Tracks[t].Events.Select(e => string.Join(",", new long[] { e.Tick, e.Status, e.Meta }.Concat(e.Data.Select(d => (long)d))));
                var found = tracks[t].EnumerateArray().SkipLast(1).Select(e => string.Join(",", e.EnumerateArray().Select(v => v.GetInt64())));
                Assert.Equal(meant, found);
            }
        }
    }

    [Fact]
    public void A_session_is_walked_to_the_same_notes_and_tempos()
    {
        var notes = Enumerable.Range(0, 300).Select(i => new Note(i * 37, 20 + (i % 11), 1 + (i % 16), i % 128, 1 + (i % 127))).ToValueArray();
        var session = new Session
        {
            Name = "Suite",
            Tempo = new TempoMap([new TempoPoint(0, 92), new TempoPoint(8, 116)]),
            Tracks = [new Track { Id = "n", Name = "Zoë", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 100, Notes = notes }] }],
        };
        var told = Python(Walk, Put("s.mid", SmfWriter.Write(MidiExport.Make(session, 0, new MidiChoices(Tempo: TempoForm.Plain), session.Tracks))));
        var events = told.GetProperty("tracks")[1].EnumerateArray().Select(e => e.EnumerateArray().Select(v => v.GetInt64()).ToArray()).ToList();
        var on = events.Where(e => (e[1] & 0xF0) == 0x90).Select(e => (e[0], e[1] & 15, e[3], e[4])).Order();
        Assert.Equal(notes.Select(n => (n.Tick, (long)n.Channel - 1, (long)n.Key, (long)n.Velocity)).Order(), on);
        var off = events.Where(e => (e[1] & 0xF0) == 0x80).Select(e => (e[0], e[1] & 15, e[3])).Order();
        Assert.Equal(notes.Select(n => (n.Tick + n.Length, (long)n.Channel - 1, (long)n.Key)).Order(), off);
        var tempos = told.GetProperty("tracks")[0].EnumerateArray().Where(e => e[1].GetInt32() == 255 && e[2].GetInt32() == 0x51).Select(e => (e[0].GetInt64(), (e[3].GetInt32() << 16) | (e[4].GetInt32() << 8) | e[5].GetInt32()));
        Assert.Equal([(0L, 652_174), (8L * 480, 517_241)], tempos);
    }
}
