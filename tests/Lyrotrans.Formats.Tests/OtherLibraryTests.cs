using System.Diagnostics;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Formats.Tests;

/// <summary>MIDI files against a library of another family (Debian's python3-mido): the same events at the same ticks, both ways.</summary>
public sealed class OtherLibraryTests : IDisposable
{
    // That library takes the start timecode's frame rate from bits 6 and 7, where RP-001 has bits 5 and 6; so it is left out here.
    // Prints every track as [tick, kind, numbers …]; a note-on of velocity 0 is that library's note-off too.
    private const string Tell = """
        import sys, json, mido
        f = mido.MidiFile(sys.argv[1], charset='latin1')
        out = []
        for t in f.tracks:
            tick, events = 0, []
            for m in t:
                tick += m.time
                k = m.type
                if k in ('note_on', 'note_off'): e = [k if m.velocity or k == 'note_off' else 'note_off', m.channel, m.note, m.velocity]
                elif k == 'control_change': e = [k, m.channel, m.control, m.value]
                elif k == 'program_change': e = [k, m.channel, m.program]
                elif k == 'pitchwheel': e = [k, m.channel, m.pitch]
                elif k == 'aftertouch': e = [k, m.channel, m.value]
                elif k == 'polytouch': e = [k, m.channel, m.note, m.value]
                elif k == 'set_tempo': e = [k, m.tempo]
                elif k == 'time_signature': e = [k, m.numerator, m.denominator]
                elif k == 'key_signature': e = [k, m.key]
                elif k in ('marker', 'track_name', 'lyrics', 'cue_marker', 'text', 'copyright'): e = [k, getattr(m, 'text', None) or getattr(m, 'name', '')]
                elif k == 'sysex': e = [k] + list(m.data)
                else: continue
                events.append([tick] + e)
            out.append(events)
        print(json.dumps([f.type, f.ticks_per_beat, out]))
        """;

    private const string Make = """
        import sys, mido, random
        d = random.Random(int(sys.argv[2]))
        f = mido.MidiFile(type=1, ticks_per_beat=d.choice([96, 480, 960, 15360]))
        c = mido.MidiTrack(); f.tracks.append(c)
        c.append(mido.MetaMessage('set_tempo', tempo=d.randint(200000, 1500000), time=0))
        c.append(mido.MetaMessage('time_signature', numerator=d.randint(2, 12), denominator=d.choice([2, 4, 8, 16]), time=0))
        c.append(mido.MetaMessage('key_signature', key=d.choice(['C', 'Dm', 'F#', 'Bb', 'Ebm']), time=0))
        for i in range(d.randint(1, 30)):
            c.append(mido.MetaMessage(d.choice(['set_tempo', 'marker']), time=d.randint(1, 5000), **{}) if False else mido.MetaMessage('set_tempo', tempo=d.randint(200000, 1500000), time=d.randint(1, 5000)))
            c.append(mido.MetaMessage('marker', text='place %d' % i, time=d.randint(0, 300)))
        for n in range(d.randint(1, 4)):
            t = mido.MidiTrack(); f.tracks.append(t)
            t.append(mido.MetaMessage('track_name', name='track %d' % n, time=0))
            on = {}
            for i in range(d.randint(0, 400)):
                k = d.random(); ch = d.randint(0, 15); dt = d.randint(0, 700)
                if k < 0.5:
                    key = d.randint(0, 127)
                    if (ch, key) in on: t.append(mido.Message('note_off', channel=ch, note=key, velocity=d.randint(1, 127), time=dt)); del on[(ch, key)]
                    else: t.append(mido.Message('note_on', channel=ch, note=key, velocity=d.randint(1, 127), time=dt)); on[(ch, key)] = 1
                elif k < 0.7: t.append(mido.Message('control_change', channel=ch, control=d.randint(0, 127), value=d.randint(0, 127), time=dt))
                elif k < 0.8: t.append(mido.Message('pitchwheel', channel=ch, pitch=d.randint(-8192, 8191), time=dt))
                elif k < 0.85: t.append(mido.Message('program_change', channel=ch, program=d.randint(0, 127), time=dt))
                elif k < 0.9: t.append(mido.Message('polytouch', channel=ch, note=d.randint(0, 127), value=d.randint(0, 127), time=dt))
                elif k < 0.95: t.append(mido.MetaMessage('lyrics', text='la', time=dt))
                else: t.append(mido.Message('sysex', data=[d.randint(0, 127) for _ in range(d.randint(1, 40))], time=dt))
            for (ch, key) in list(on): t.append(mido.Message('note_off', channel=ch, note=key, velocity=64, time=d.randint(0, 100)))
        f.save(sys.argv[1])
        """;

    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-other-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static string Run(string program, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo("/usr/bin/python3", ["-c", program, .. arguments]) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var errors = process.StandardError.ReadToEndAsync();
        var output = process.StandardOutput.ReadToEnd();
        process.WaitForExit();
        Assert.True(process.ExitCode == 0, errors.Result);
        return output;
    }

    private static IEnumerable<string> Told(JsonElement track) => track.EnumerateArray().Select(e => string.Join(" ", e.EnumerateArray().Select(v => v.ToString())));

    private static string[][] Ours(SmfFile file) => file.Tracks.Select(t => t.Events.Select(Words).OfType<string>().ToArray()).ToArray();

    private static string? Words(SmfEvent e)
    {
        var (d, c) = (e.Data, e.Status & 15);
        string Text() => System.Text.Encoding.Latin1.GetString(d.AsSpan());
        return e.Status switch
        {
            SmfEvent.MetaStatus => e.Meta switch
            {
                SmfMeta.Tempo => $"{e.Tick} set_tempo {(d[0] << 16) | (d[1] << 8) | d[2]}",
                SmfMeta.Meter => $"{e.Tick} time_signature {d[0]} {1 << d[1]}",
                SmfMeta.Key => $"{e.Tick} key_signature {new KeyChange(0, (sbyte)d[0], d[1] == 1).Name}",
                SmfMeta.Marker => $"{e.Tick} marker {Text()}",
                SmfMeta.Cue => $"{e.Tick} cue_marker {Text()}",
                SmfMeta.TrackName => $"{e.Tick} track_name {Text()}",
                SmfMeta.Lyric => $"{e.Tick} lyrics {Text()}",
                SmfMeta.Text => $"{e.Tick} text {Text()}",
                SmfMeta.Copyright => $"{e.Tick} copyright {Text()}",
                _ => null,
            },
            0xF0 => $"{e.Tick} sysex {string.Join(" ", d.TakeWhile(b => b != 0xF7))}",
            _ => e.Kind switch
            {
                0x80 => $"{e.Tick} note_off {c} {d[0]} {d[1]}",
                0x90 => $"{e.Tick} {(d[1] > 0 ? "note_on" : "note_off")} {c} {d[0]} {d[1]}",
                0xA0 => $"{e.Tick} polytouch {c} {d[0]} {d[1]}",
                0xB0 => $"{e.Tick} control_change {c} {d[0]} {d[1]}",
                0xC0 => $"{e.Tick} program_change {c} {d[0]}",
                0xD0 => $"{e.Tick} aftertouch {c} {d[0]}",
                0xE0 => $"{e.Tick} pitchwheel {c} {(d[0] | (d[1] << 7)) - 8192}",
                _ => null,
            },
        };
    }

    private void Same(string path, SmfFile file)
    {
        using var told = JsonDocument.Parse(Run(Tell, path));
        Assert.Equal((file.Type, file.TicksPerQuarter), (told.RootElement[0].GetInt32(), told.RootElement[1].GetInt32()));
        Assert.Equal(Ours(file), told.RootElement[2].EnumerateArray().Select(t => Told(t).ToArray()).ToArray());
    }

    [Theory]
    [InlineData("suite-type-0")]
    [InlineData("suite-type-1")]
    [InlineData("suite-96")]
    [InlineData("suite-15360")]
    [InlineData("conductor-only")]
    [InlineData("running-status")]
    [InlineData("hanging-and-overlapping")]
    public void A_file_that_was_sent_to_us_is_read_alike(string name)
    {
        var path = Path.Combine(_folder, "f.mid");
        using (var stream = Fixtures.Open($"midi/{name}.mid"))
        using (var copy = File.Create(path))
        {
            stream.CopyTo(copy);
        }

        using var file = File.OpenRead(path);
        Same(path, SmfReader.Read(file, name));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(2)]
    [InlineData(3)]
    [InlineData(4)]
    [InlineData(5)]
    public void A_file_that_it_makes_is_read_alike_and_comes_back_from_a_session(int seed)
    {
        var path = Path.Combine(_folder, "made.mid");
        Run(Make, path, seed.ToString());
        using var stream = File.OpenRead(path);
        var file = SmfReader.Read(stream, "made");
        Assert.Empty(file.Findings);
        Same(path, file);

        // Through a session and out again: every note, controller and text at the tick it had.
        var session = MidiImport.Read(file, "made", SampleRate.Hz48000);
        var again = MidiExport.Make(session, 0, new MidiChoices(), session.Tracks);
        var factor = again.TicksPerQuarter / file.TicksPerQuarter;
        Assert.Equal(0, again.TicksPerQuarter % file.TicksPerQuarter);
        var (before, after) = (SmfContents.Of(file).Tracks.Where(t => t.Notes.Count + t.Controls.Count > 0).ToList(), SmfContents.Of(again).Tracks.Skip(1).ToList());
        Assert.Equal(before.Select(t => t.Name), after.Select(t => t.Name));
        for (var i = 0; i < before.Count; i++)
        {
            Assert.Equal(before[i].Notes.Select(n => n with { Tick = n.Tick * factor, Length = Math.Max(1, n.Length * factor) }), after[i].Notes);
            Assert.Equal(before[i].Controls.Select(c => c with { Tick = c.Tick * factor }).Order(s_order), after[i].Controls.Order(s_order));
        }

        Assert.Equal(SmfContents.Of(file).Markers.Select(m => (m.Tick * factor, m.Text)), SmfContents.Of(again).Markers);
        Assert.Equal(SmfContents.Of(file).Meters.Select(m => (m.Tick * factor, m.Beats, m.BeatUnit)), SmfContents.Of(again).Meters);
    }

    private static readonly Comparer<NoteControl> s_order = Comparer<NoteControl>.Create((a, b) => string.CompareOrdinal($"{a.Tick:D9} {a.Kind} {a.Channel} {a.Number} {a.Value} {string.Join(" ", a.Bytes)}", $"{b.Tick:D9} {b.Kind} {b.Channel} {b.Number} {b.Value} {string.Join(" ", b.Bytes)}"));

    [Fact]
    public void A_session_that_we_write_is_read_alike()
    {
        var notes = Enumerable.Range(0, 200).Select(i => new Note(i * 53, 40 + (i % 7), 1 + (i % 16), i % 128, 1 + (i % 127), i % 128)).ToValueArray();
        NoteControl[] controls =
        [
            new(0, NoteControlKind.Program, 1, 0, 46), new(5, NoteControlKind.Controller, 1, 64, 127), new(9, NoteControlKind.PitchBend, 2, 0, -5000), new(11, NoteControlKind.ChannelPressure, 3, 0, 77),
            new(12, NoteControlKind.PolyPressure, 3, 60, 11), new(13, NoteControlKind.SystemExclusive, 0, 0xF0, 0, [1, 2, 3, 0xF7]), new(14, NoteControlKind.Meta, 0, SmfMeta.Lyric, 0, ValueArray.Create("la"u8)),
        ];
        var session = new Session
        {
            Name = "Suite",
            Bar1Sample = 31_304,
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
            Tempo = new TempoMap([new TempoPoint(-1, 92, Ramp: true), new TempoPoint(16, 140)]),
            Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(4, 7, 8)]),
            Keys = [new KeyChange(-1, -1, true)],
            Markers = [new Marker("a", "Lamps down", 31_304), new Marker("b", "Comet", 200_000, 48_000)],
            Tracks = [new Track { Id = "n", Name = "Harp", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 100, Notes = notes, Controls = controls.ToValueArray() }] }],
        };
        foreach (var tempo in Enum.GetValues<TempoForm>())
        {
            var file = MidiExport.Make(session, 0, new MidiChoices(Tempo: tempo), session.Tracks);
            var path = Path.Combine(_folder, $"{tempo}.mid");
            File.WriteAllBytes(path, SmfWriter.Write(file));
            Same(path, file);
        }
    }
}
