using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Midi;

namespace Lyrotrans.Formats.Tests;

public class SmfWriterTests
{
    [Theory]
    [InlineData("suite-type-0")]
    [InlineData("suite-type-1")]
    [InlineData("suite-15360")]
    [InlineData("texts")]
    [InlineData("sysex")]
    [InlineData("smpte-division")]
    public void What_was_read_is_written_and_read_the_same(string name)
    {
        var file = SmfReader.Read(Fixtures.Open($"midi/{name}.mid"), name);
        var again = SmfReader.Read(new MemoryStream(SmfWriter.Write(file)), name);
        Assert.Equal(file with { Findings = [] }, again);
        Assert.Equal(SmfWriter.Write(file), SmfWriter.Write(again));
    }

    [Fact]
    public void Steps_that_the_format_cannot_say_are_refused()
    {
        var file = new SmfFile { Tracks = [new SmfTrack([SmfEvent.OfMeta(1L << 28, SmfMeta.Marker, 65)], 1L << 28)] };
        Assert.Equal(MidiCodes.TooFar, Assert.Throws<BadInputException>(() => SmfWriter.Write(file)).Code);
    }

    private static SmfFile Make(Session session, long start, MidiChoices? choices = null) =>
        MidiExport.Make(session, start, choices ?? new MidiChoices(), session.Tracks.Where(t => t.Kind == TrackKind.Notes));

    private static readonly Session s_session = new()
    {
        Name = "Suite",
        Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
        Bar1Sample = 31_304,
        Tempo = new TempoMap([new TempoPoint(-1, 92), new TempoPoint(48, 116)]),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(17, 7, 8)]),
        Keys = [new KeyChange(-1, -1, true)],
        Markers = [new Marker("a", "Lamps down", 31_304)],
        Tracks =
        [
            new Track
            {
                Id = "c", Name = "Celesta", Kind = TrackKind.Notes,
                Parts =
                [
                    new NotePart
                    {
                        Id = "1", Name = "one", StartQuarter = -1, LengthQuarters = 8, TicksPerQuarter = 480,
                        Notes = [new Note(0, 240, 1, 60, 90), new Note(480, 9000, 1, 62, 80), new Note(5000, 10, 1, 64, 1)],
                        Controls = [new NoteControl(0, NoteControlKind.PitchBend, 1, 0, -8192), new NoteControl(10, NoteControlKind.Program, 1, 0, 8)],
                    },
                    new NotePart { Id = "2", Name = "two", StartQuarter = 12, LengthQuarters = 4, TicksPerQuarter = 96, Notes = [new Note(96, 48, 1, 65, 70)] },
                    new NotePart { Id = "3", Name = "muted", StartQuarter = 0, LengthQuarters = 4, Muted = true, Notes = [new Note(0, 48, 1, 66, 70)] },
                ],
            },
        ],
    };

    [Fact]
    public void Parts_are_joined_trimmed_to_their_bounds_and_muted_ones_left_out()
    {
        var contents = SmfContents.Of(Make(s_session, 0));
        Assert.Equal(["Suite", "Celesta"], contents.Tracks.Select(t => t.Name));
        Assert.Equal(
            [new Note(0, 240, 1, 60, 90), new Note(480, 3360, 1, 62, 80), new Note(6720, 240, 1, 65, 70)],
            contents.Tracks[1].Notes);
        Assert.Equal(-8192, contents.Tracks[1].Controls[0].Value);
    }

    [Fact]
    public void The_conductor_carries_pick_up_meters_key_marker_and_start()
    {
        var contents = SmfContents.Of(Make(s_session, 0));
        Assert.Equal([(0L, 1, 4), (480L, 4, 4), (480L * 65, 7, 8)], contents.Meters);
        Assert.Equal([(480L, "Lamps down")], contents.Markers);
        Assert.Equal((0L, -1, true), Assert.Single(contents.Keys));
        Assert.Equal([10, 0, 0, 0, 0, 25], contents.SmpteOffset);
        Assert.Contains((480L * 49, 517_241), SmfContents.Of(Make(s_session, 0, new MidiChoices(Tempo: TempoForm.Plain))).Tempos);
        Assert.InRange(MidiExport.Drift(s_session, 0, TempoForm.Plain).Samples, 0.0001, 1);
    }

    [Fact]
    public void A_session_comes_back_from_its_midi_file_with_the_same_ticks()
    {
        var file = Make(s_session, 0);
        var back = MidiImport.Read(file, "Suite", s_session.Rate);
        Assert.Equal(s_session.Bar1Sample, back.Bar1Sample);
        Assert.Equal(s_session.Meters, back.Meters);
        Assert.Equal(s_session.Markers[0].Sample, back.Markers[0].Sample);
        Assert.Equal(SmfContents.Of(file).Tracks[1].Notes, SmfContents.Of(Make(back, 0)).Tracks[1].Notes);
    }

    [Theory]
    [InlineData(0)]
    [InlineData(31_304)]
    [InlineData(-200_000)]
    [InlineData(100_000)]
    [InlineData(50_003)]
    public void Beats_keep_their_samples_wherever_the_range_starts(long start)
    {
        var file = Make(s_session, start);
        var back = MidiImport.Read(file with { Tracks = [file.Tracks[0]] }, "x", s_session.Rate);
        var marker = s_session.Clock.SampleAt(20);
        var tick = Make(s_session with { Markers = [new Marker("b", "beat", marker)] }, start);
        var found = MidiImport.Read(tick, "x", s_session.Rate).Markers.Single(m => m.Text == "beat").Sample;
        Assert.InRange(found - (marker - start), -2, 2);
        Assert.NotEmpty(back.Tempo.Points);
        Assert.InRange(MidiExport.Drift(s_session, start, TempoForm.Corrected).Samples, 0, 2);
    }

    [Fact]
    public void A_file_with_no_notes_still_carries_the_map()
    {
        var contents = SmfContents.Of(Make(s_session with { Tracks = [] }, 0));
        Assert.Single(contents.Tracks);
        Assert.Equal(3, contents.Tempos.Count);
    }

    [Fact]
    public void The_comparison_sees_a_missing_note_and_a_moved_tempo()
    {
        var meant = Make(s_session, 0);
        Assert.All(MidiComparison.Compare(meant, meant), r => Assert.True(r.Passed));
        var part = s_session.Tracks[0].Parts[0];
        var fewer = s_session with { Tracks = [s_session.Tracks[0] with { Parts = [part with { Notes = part.Notes.Skip(1).ToValueArray() }] }] };
        Assert.Contains(MidiComparison.Compare(meant, Make(fewer, 0)), r => r is { What: "notes", Passed: false });
        var slower = s_session with { Tempo = TempoMap.Constant(91) };
        Assert.Contains(MidiComparison.Compare(meant, Make(slower, 0)), r => r is { What: "tempos", Passed: false });
    }
}
