using System.Text;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Sources that say something of the music, together.</summary>
public sealed class MergeTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-merge-").FullName;
    private readonly Dictionary<string, byte[]> _files = [];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static Session Music(Rational tempo, params Marker[] markers) => new()
    {
        Name = "Music",
        Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
        Tempo = TempoMap.Constant(tempo),
        Meters = new MeterMap([new MeterChange(1, 3, 4)]),
        Keys = [new KeyChange(0, 2, false)],
        Markers = [.. markers],
        Tracks = [new Track { Id = "n", Name = "Harp", Kind = TrackKind.Notes, Channels = 0, Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 8, Notes = [new Note(480, 240, 1, 60, 90)] }] }],
    };

    private IntakeItem Item(string name, byte[] bytes)
    {
        var path = Path.Combine(_folder, Guid.NewGuid().ToString("N"));
        File.WriteAllBytes(path, bytes);
        var sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
        _files[sha256] = bytes;
        var item = Examiner.Examine(new DiskFile(path), name, sha256);
        Assert.Null(item.Error);
        return item;
    }

    private IntakeItem Midi(string name, Session session) => Item(name, SmfWriter.Write(MidiExport.Make(session, 0, new MidiChoices(Tempo: TempoForm.Plain), session.Tracks)));

    private IntakeItem Document(string name, Session session) => Item(name, SessionDocumentWriter.Write(session));

    private static IntakeItem Sound(string name) => new()
    {
        Id = name,
        Name = name,
        Sha256 = name,
        Kind = ContentKind.Wave,
        Sound = new SoundFileFacts("WAVE", SampleEncoding.Integer24, 1, "48000", 480_000, 1_728_000_000, []),
    };

    private JoinedSession Join(IntakeState state) => SessionJoin.Join(state, sha => new MemoryStream(_files[sha]));

    private JoinedSession Join(params IntakeItem[] items) => Join(new IntakeState { SessionName = "S", Items = items });

    [Fact]
    public void A_midi_file_beside_sound_brings_map_keys_and_markers()
    {
        var joined = Join(Sound("a.wav"), Midi("m.mid", Music(90, new Marker("a", "Comet", 64_000, 32_000))));
        Assert.Equal(MusicMap.Of(Music(90)), MusicMap.Of(joined.Session) with { Tempo = TempoMap.Constant(90) });
        Assert.InRange((joined.Session.Tempo.Points[0].QuartersPerMinute - 90).ToDouble(), -0.001, 0.001);
        var comet = Assert.Single(joined.Session.Markers);
        Assert.Equal(("Comet", 64_000L, 32_000L), (comet.Text, comet.Sample, comet.Length));
        Assert.False(joined.MapsDisagree);
        Assert.Empty(joined.Findings);
    }

    [Fact]
    public void A_document_that_knows_no_map_takes_that_of_the_midi_file_and_its_sound_stays()
    {
        var bare = new Session
        {
            Name = "Bare",
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
            Media = [new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Length = 90_000, Channels = 1 }],
            Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = "m", Start = 12_345, Length = 1_000 }])] }],
        };
        var midi = Midi("m.mid", Music(90));
        var joined = Join(Document("s.session.json", bare), midi);
        Assert.Equal(midi.Id, joined.MapLeader);
        Assert.Equal(3, joined.Session.Meters.Changes[0].Beats);
        Assert.Equal(12_345, joined.Session.Tracks[0].Lanes[0].Clips[0].Start);
        Assert.Empty(joined.Findings);
    }

    [Fact]
    public void Two_maps_are_shown_and_the_one_decided_on_leads()
    {
        var (document, midi) = (Document("s.session.json", Music(100) with { Tracks = [] }), Midi("m.mid", Music(90)));
        var open = Join(document, midi);
        Assert.True(open.MapsDisagree);
        Assert.Equal(document.Id, open.MapLeader);
        Assert.Contains("leads until you decide", Assert.Single(open.Findings).Text);
        Assert.Equal(["s.session.json", "m.mid"], open.Maps.Select(m => m.Name));
        Assert.Equal(100, open.Session.Tempo.Points[0].QuartersPerMinute);

        var decided = Join(new IntakeState { Items = [document, midi], MapFrom = midi.Id });
        Assert.Equal(midi.Id, decided.MapLeader);
        Assert.Empty(decided.Findings);
        Assert.InRange((decided.Session.Tempo.Points[0].QuartersPerMinute - 90).ToDouble(), -0.001, 0.001);

        // The notes keep their bar and beat, whoever leads.
        Assert.All([open, decided], j => Assert.Equal(1, j.Session.Tracks[^1].Parts[0].StartQuarter + new Rational(j.Session.Tracks[^1].Parts[0].Notes[0].Tick, j.Session.Tracks[^1].Parts[0].TicksPerQuarter)));
    }

    [Fact]
    public void A_start_that_the_midi_file_says_is_told_and_followed_on_demand()
    {
        var later = Music(90) with { Start = Timecode.FromLabel(10, 0, 2, 0, FrameRate.Fps25) };
        var midi = Midi("m.mid", later);
        var open = Join(Sound("a.wav"), midi);
        Assert.Equal("m.mid", Assert.Single(open.OtherStarts).Name);
        Assert.Equal(0, open.Session.Bar1Sample);
        var followed = Join(Sound("a.wav"), midi with { Placement = new Placement(PlacementRule.TimeStamp) });
        Assert.Equal(96_000, followed.Session.Bar1Sample);
        Assert.Empty(followed.OtherStarts);
        Assert.Equal("by its start timecode", followed.Placed[midi.Id].Reason);
    }

    [Fact]
    public void Markers_of_all_sources_come_together_or_those_of_one()
    {
        var document = Document("s.session.json", Music(90, new Marker("a", "Lamps", 0) { By = "booth" }, new Marker("b", "Comet", 64_000)) with { Tracks = [] });
        var midi = Midi("m.mid", Music(90, new Marker("x", "Comet", 64_000), new Marker("y", "Dark", 128_000)));
        var list = Item("m.csv", Encoding.UTF8.GetBytes("text;start timecode;end timecode;samples;Author;date\r\n\"Dome; turns\";10:00:04:00;10:00:05:00;; gallery ;2 March\r\nComet;;;64001;booth;Lyrotrans\r\nLamps;;;0;gallery;3 March\r\n"));
        var joined = Join(document, midi, list);
        Assert.Equal([("Lamps", 0L, 0L), ("Comet", 64_000, 0), ("Dark", 128_000, 0), ("Dome; turns", 192_000, 48_000)], joined.Session.Markers.Select(m => (m.Text, m.Sample, m.Length)));
        // What the first source does not say, a later one may.
        Assert.Equal([("booth", "3 March"), ("booth", "Lyrotrans"), (string.Empty, string.Empty), ("gallery", "2 March")], joined.Session.Markers.Select(m => (m.By, m.Date)));
        Assert.Equal(3, joined.MarkerSources.Count);
        var only = Join(new IntakeState { Items = [document, midi, list], MarkersFrom = list.Id });
        Assert.Equal(["Lamps", "Comet", "Dome; turns"], only.Session.Markers.Select(m => m.Text));
    }

    [Fact]
    public void A_row_of_a_marker_list_that_cannot_be_understood_is_told_and_the_rest_is_taken()
    {
        var joined = Join(Sound("a.wav"), Item("m.csv", "name,samples,end samples\nGood,100,\nBad,10x,\nTurned,200,100\n"u8.ToArray()));
        Assert.Equal(["Good"], joined.Session.Markers.Select(m => m.Text));
        Assert.Contains(joined.Findings, f => f.Text.Contains("line 3", StringComparison.Ordinal) && f.Text.Contains("10x", StringComparison.Ordinal));
        Assert.Contains(joined.Findings, f => f.Text.Contains("line 4", StringComparison.Ordinal) && f.Text.Contains("ends before it begins", StringComparison.Ordinal));
    }

    [Fact]
    public void A_file_of_the_right_name_with_too_few_channels_is_not_the_media()
    {
        var session = new Session
        {
            Name = "Pair",
            Media = [new Media { Id = "m", FileName = "pair.wav", Rate = SampleRate.Hz48000, Length = 480_000, Channels = 2 }],
            Tracks = [new Track { Id = "t", Name = "t", Channels = 2, Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = "m", Length = 1_000, ChannelMap = [0, 1] }])] }],
        };
        var joined = Join(Document("s.session.json", session), Sound("pair.wav"));
        Assert.Equal("pair.wav", Assert.Single(joined.Missing).FileName);
        Assert.Empty(SessionRules.Check(joined.Session));
    }

    [Fact]
    public void Markers_go_out_as_a_list_and_come_in_the_same()
    {
        var session = Music(92, new Marker("a", "Plain", 1), new Marker("b", "With, comma and \"quotes\"", 77_777, 12) { By = "=booth", Date = "2,3" }, new Marker("c", "Zwei\nZeilen", 99_999, 1) { Date = "-" });
        var rows = MarkerListReader.Read(new MemoryStream(MarkerListWriter.Write(session)), "m.csv");
        FindingList findings = [];
        Assert.Equal(session.Markers.Select(m => m with { Id = string.Empty }), MarkerJoin.FromList(session, rows, "m.csv", findings).Select(m => m with { Id = string.Empty }));
        Assert.Empty(findings);
    }

    [Fact]
    public void An_edited_map_stays_over_whatever_is_brought_in_later()
    {
        var midi = Midi("m.mid", Music(90));
        var before = Join(Sound("a.wav"), midi).Session;
        var made = new MusicMap(new TempoMap([new TempoPoint(0, 70, Ramp: true), new TempoPoint(8, 80)]), MeterMap.FourFour, [], 500);
        var state = new IntakeState { Items = [Sound("a.wav"), midi], MapEdits = [MapEdit.Of(before, made, new Anchors(Audio: Anchor.Quarters))] };
        var kept = IntakeState.FromJson(state.ToJson());
        Assert.Equal(made, MusicMap.Of(Join(kept).Session));
        var more = Join(kept with { Items = [.. kept.Items, Midi("n.mid", Music(111))] });
        Assert.Equal(made, MusicMap.Of(more.Session));
        Assert.Empty(more.Findings);
        Assert.Equal(made.ClockAt(SampleRate.Hz48000).SampleAt(before.Clock.QuarterAt(0)), more.Session.Tracks.First(t => t.Kind == TrackKind.Audio).Lanes[0].Clips[0].Start);
    }
}
