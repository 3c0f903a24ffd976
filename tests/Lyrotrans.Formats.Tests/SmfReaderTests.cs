using System.Text.Json;
using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Formats.Tests;

public class SmfReaderTests
{
    [Theory]
    [InlineData("suite-type-0")]
    [InlineData("suite-type-1")]
    [InlineData("suite-96")]
    [InlineData("suite-15360")]
    public void Files_of_other_software_hold_what_is_stated(string name)
    {
        using var expected = JsonDocument.Parse(File.ReadAllText(Fixtures.Path($"midi/{name}.json")));
        var root = expected.RootElement;
        var file = Read($"midi/{name}.mid");
        var contents = SmfContents.Of(file);
        Assert.Equal(root.GetProperty("type").GetInt32(), file.Type);
        Assert.Equal(root.GetProperty("ticksPerQuarter").GetInt32(), file.TicksPerQuarter);
        Assert.Equal(Rows(root.GetProperty("tempos")), contents.Tempos.Select(t => $"[{t.Tick},{t.Microseconds}]"));
        Assert.Equal(Rows(root.GetProperty("meters")), contents.Meters.Select(m => $"[{m.Tick},{m.Beats},{m.BeatUnit}]"));
        Assert.Equal(Rows(root.GetProperty("keys")), contents.Keys.Select(k => $"[{k.Tick},\"{new KeyChange(0, k.Sharps, k.Minor).Name}\"]"));
        Assert.Equal(Rows(root.GetProperty("markers")), contents.Markers.Select(m => $"[{m.Tick},\"{m.Text}\"]"));
        Assert.Equal(Rows(root.GetProperty("cues")), contents.Cues.Select(m => $"[{m.Tick},\"{m.Text}\"]"));
        Assert.Equal(root.GetProperty("smpteOffset").EnumerateArray().Select(v => v.GetInt32()), contents.SmpteOffset);
        Assert.DoesNotContain(contents.Findings, f => !f.Text.Contains("overlapping", StringComparison.Ordinal));
        Assert.Equal(root.GetProperty("tracks").GetArrayLength(), contents.Tracks.Count);
        foreach (var (track, found) in root.GetProperty("tracks").EnumerateArray().Zip(contents.Tracks))
        {
            Assert.Equal(track.GetProperty("name").GetString(), found.Name);
            Assert.Equal(Rows(track.GetProperty("notes")).Order(), found.Notes.Select(n => $"[{n.Tick},{n.Length},{n.Channel},{n.Key},{n.Velocity}]").Order());
            Assert.Equal(Rows(track.GetProperty("controllers")).Order(), Of(NoteControlKind.Controller, c => $"[{c.Tick},{c.Channel},{c.Number},{c.Value}]"));
            Assert.Equal(Rows(track.GetProperty("programs")).Order(), Of(NoteControlKind.Program, c => $"[{c.Tick},{c.Channel},{c.Value}]"));
            Assert.Equal(Rows(track.GetProperty("pitchBends")).Order(), Of(NoteControlKind.PitchBend, c => $"[{c.Tick},{c.Channel},{c.Value}]"));
            IEnumerable<string> Of(NoteControlKind kind, Func<NoteControl, string> write) => found.Controls.Where(c => c.Kind == kind).Select(write).Order();
        }
    }

    [Fact]
    public void Running_status_is_followed() =>
        Assert.Equal([new Note(0, 96, 1, 60, 64), new Note(96, 96, 1, 62, 64)], SmfContents.Of(Read("midi/running-status.mid")).Tracks.SelectMany(t => t.Notes));

    [Fact]
    public void A_cut_file_gives_what_came_before_the_cut()
    {
        var contents = SmfContents.Of(Read("midi/cut.mid"));
        Assert.Contains(contents.Findings, f => f.Text.Contains("file ends inside track", StringComparison.Ordinal));
        Assert.InRange(contents.Tracks.Sum(t => t.Notes.Count), 15, 10_000);
    }

    [Fact]
    public void Overlaps_and_hanging_notes_are_findings()
    {
        var contents = SmfContents.Of(Read("midi/hanging-and-overlapping.mid"));
        Assert.Equal(3, contents.Tracks.Sum(t => t.Notes.Count));
        Assert.Contains(contents.Findings, f => f.Text.Contains("overlapping note 60", StringComparison.Ordinal));
        Assert.Contains(contents.Findings, f => f.Text.Contains("note 72", StringComparison.Ordinal) && f.Text.Contains("never ends", StringComparison.Ordinal));
    }

    [Fact]
    public void Stray_chunks_and_data_after_the_end_are_findings()
    {
        var file = Read("midi/stray-data.mid");
        Assert.Single(file.Tracks);
        Assert.Contains(file.Findings, f => f.Text.Contains("Unknown chunk", StringComparison.Ordinal));
        Assert.Contains(file.Findings, f => f.Text.Contains("data after the end", StringComparison.Ordinal));
    }

    [Fact]
    public void A_track_count_that_lies_is_a_finding()
    {
        var file = Read("midi/wrong-track-count.mid");
        Assert.Single(file.Tracks);
        Assert.Contains(new Finding(MidiCodes.TrackCount, string.Empty, "The header says 5 tracks, the file has 1."), file.Findings);
    }

    [Fact]
    public void Texts_are_utf8_or_latin1() => Assert.Equal(
        ["星の音 Zoë", "Kürbis é"], SmfContents.Of(Read("midi/texts.mid")).Tracks.Select(t => t.Name).Where(n => n.Length > 0));

    [Fact]
    public void Smpte_division_type_2_sysex_and_conductor_only()
    {
        var smpte = Read("midi/smpte-division.mid");
        Assert.Equal((25, 40), (smpte.FramesPerSecond, smpte.TicksPerFrame));
        Assert.Equal([new Note(0, 1000, 1, 60, 64)], SmfContents.Of(smpte).Tracks.SelectMany(t => t.Notes));
        Assert.Equal(2, Read("midi/type-2.mid").Tracks.Count);
        var sysex = SmfContents.Of(Read("midi/sysex.mid")).Tracks.SelectMany(t => t.Controls).First(c => c.Kind == NoteControlKind.SystemExclusive);
        Assert.Equal(119, sysex.Bytes.TakeWhile(b => b != 0xF7).Count());
        Assert.Equal([(0L, 500_000), (3840L, 600_001)], SmfContents.Of(Read("midi/conductor-only.mid")).Tempos);
    }

    [Fact]
    public void What_is_no_midi_file_is_refused_by_name()
    {
        var problem = Assert.Throws<BadInputException>(() => Read("midi/not-midi.mid"));
        Assert.Contains("not a MIDI file", problem.Message);
        Assert.Contains("midi/not-midi.mid", problem.Message);
    }

    [Fact]
    public void Any_damage_gives_an_error_or_findings_and_never_a_crash()
    {
        var good = Fixtures.Open("midi/suite-96.mid").ToArray();
        var damage = new Damage();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte, Gen.Int[0, good.Length]).Array[1, 8].Sample(
            hits =>
            {
                var bytes = Damage.Changed(good, hits.Select(h => (h.Item1, h.Item2)));

                damage.Take(() => SmfReader.Read(new MemoryStream(bytes[..hits[0].Item3]), "damaged.mid"), Holds);
            },
            iter: 2000);
        damage.BothHappened();
    }

    // Ticks go up, and what the events mean is in the bounds of the format.
    private static void Holds(SmfFile file)
    {
        Assert.All(file.Tracks, t => Assert.Equal(t.Events.Select(e => e.Tick).Order(), t.Events.Select(e => e.Tick)));
        var contents = SmfContents.Of(file);
        Assert.All(contents.Tempos, t => Assert.InRange(t.Microseconds, 1, 0xFFFFFF));
        Assert.All(contents.Meters, m => Assert.InRange(m.Beats, 1, 255));
        Assert.All(contents.Tracks.SelectMany(t => t.Notes), n => Assert.True(n is { Key: >= 0 and <= 127, Channel: >= 1 and <= 16, Length: >= 0 }));
    }

    private static SmfFile Read(string name) => SmfReader.Read(Fixtures.Open(name), name);

    private static IEnumerable<string> Rows(JsonElement list) => list.EnumerateArray().Select(r => JsonSerializer.Serialize(r, s_options));

    private static readonly JsonSerializerOptions s_options = new() { Encoder = System.Text.Encodings.Web.JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
}
