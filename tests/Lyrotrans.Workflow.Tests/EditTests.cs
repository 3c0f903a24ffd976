using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Changes of preparation and intake as operations, without a page.</summary>
public class EditTests
{
    private static readonly Session s_session = new()
    {
        Name = "Orrery Suite",
        Tracks = new[] { "bell", "horn", "cello" }.Select(n => new Track { Id = n, Name = n }).Append(new Track { Id = "keys", Name = "keys", Kind = TrackKind.Notes }).ToValueArray(),
    };

    private static readonly Preparation s_before = Preparation.Default(s_session, SessionFormats.Usual);

    private static readonly Preparation s_going = s_before with { Tracks = s_before.Tracks.Select(t => t with { Treatment = Treatment.PrintDry }).ToValueArray() };

    private static TrackSheetEdits Rows(params string[] tracks) => new(s_session, s_before, tracks);

    private static TrackChoice Row(Edit<Preparation> edit, string track) => edit.After!.Tracks.Single(c => c.TrackId == track);

    private static FilesEdit Files => new() { Pattern = s_before.NamePattern, Start = s_before.From, Container = s_before.Container, Encoding = s_before.Encoding };

    [Fact]
    public void A_change_of_marked_rows_leaves_the_others_and_says_how_many()
    {
        var edit = Rows("bell", "cello", "gone", "bell").Invert(true);
        Assert.Equal(["bell", "cello"], edit.After!.Tracks.Where(c => c.Inverted).Select(c => c.TrackId));
        Assert.Equal("2 tracks: polarity inverted", edit.Words);
        Assert.Equal("bell: stem Bells", Rows("bell").Group(" Bells ").Words);
        Assert.Null(Row(Rows("bell").Group("  "), "bell").Group);
        Assert.Equal(DeliveredChannels.Mono, Row(Rows("bell").Deliver(DeliveredChannels.Mono), "bell").Channels);
    }

    [Fact]
    public void A_row_takes_only_a_treatment_that_its_track_can_have()
    {
        var edit = Rows("bell", "keys").Treat(Treatment.NotesAndPrint);
        Assert.Equal(Row(new(s_before, "", null), "bell").Treatment, Row(edit, "bell").Treatment);
        Assert.Equal(Treatment.NotesAndPrint, Row(edit, "keys").Treatment);
        var held = new TrackSheetEdits(s_session, Rows("bell").Treat(Treatment.HoldBack).After!, ["bell"]);
        Assert.Equal(Preparation.TreatmentsOf(s_session.Tracks[0])[0], Row(held.Go(), "bell").Treatment);
        var all = TrackSheetEdits.TreatAll(s_before, Treatment.PrintDry, Treatment.KeepClips, "kept").After!;
        Assert.Equal(s_before.Tracks.Count(c => c.Treatment == Treatment.PrintDry), all.Tracks.Count(c => c.Treatment == Treatment.KeepClips));
    }

    [Fact]
    public void Rows_that_are_not_there_are_refused()
    {
        foreach (var edit in new[] { Rows("gone").Invert(true), Rows().Move(true), Rows("gone").Name("x"), Rows().Go() })
        {
            Assert.Null(edit.After);
            Assert.Equal("There is no such track any more. Load the page again.", edit.Problem);
        }
    }

    [Fact]
    public void A_row_moves_by_one_and_stays_at_the_end()
    {
        string[] Order(Edit<Preparation> edit) => [.. edit.After!.Tracks.Select(c => c.TrackId)];
        Assert.Equal(["horn", "bell", "cello", "keys"], Order(Rows("bell").Move(down: true)));
        Assert.Equal(["bell", "horn", "cello", "keys"], Order(Rows("bell").Move(down: false)));
        Assert.Equal("horn: moved up", Rows("horn").Move(down: false).Words);
    }

    [Theory]
    [InlineData("{order}_{track}_v2", "02_Horn close_v2", "Horn close")]
    [InlineData("{order}_{track}_v2", " Horn close ", "Horn close")]
    [InlineData("{track}", "02_Horn", "02_Horn")]
    [InlineData("{track}", "  ", null)]
    public void A_typed_name_is_the_track_s_part_of_it(string pattern, string typed, string? name)
    {
        var edit = new TrackSheetEdits(s_session, s_going with { NamePattern = pattern }, ["horn"]).Name(typed);
        Assert.Equal(name, Row(edit, "horn").Name);
    }

    [Fact]
    public void A_name_needs_a_place_in_the_pattern() =>
        Assert.Contains("no {track}", new TrackSheetEdits(s_session, s_before with { NamePattern = "{order}" }, ["horn"]).Name("x").Problem!, StringComparison.Ordinal);

    [Fact]
    public void What_is_not_shown_keeps_what_it_had()
    {
        var before = s_before with { ChosenStart = 77, Tail = 1234 };
        var edit = Files.Apply(s_session, before, 5000);
        Assert.Equal((before, string.Empty), (edit.After, edit.Words));
        var end = Files with { ToChosen = true };
        Assert.Equal((5000L, "files to sample 5000"), (end.Apply(s_session, before, 5000).After!.ChosenEnd, end.Apply(s_session, before, 5000).Words));
        var tail = Files with { Tail = "1/2 s" };
        Assert.Equal(24_000, tail.Apply(s_session, before, 5000).After!.Tail);
    }

    public static TheoryData<FilesEdit, string> WrongFiles => new()
    {
        { Files with { Pattern = null }, "pattern" },
        { Files with { Pattern = "{nothing}" }, "{nothing}" },
        { Files with { Chosen = "noon" }, "\"noon\" is no timecode" },
        { Files with { ChosenEnd = "late", ToChosen = true }, "\"late\" is no timecode" },
        { Files with { Tail = "-1" }, "\"-1\" is no tail" },
        { Files with { Tail = "3601" }, "0 to 3600" },
        { Files with { Encoding = SampleEncoding.Unsigned8 }, "16, 24 or 32 bit" },
        { Files with { Container = (SoundContainer)99 }, "16, 24 or 32 bit" },
        { Files with { Container = SoundContainer.Flac, Encoding = SampleEncoding.Float32 }, "FLAC holds no float" },
    };

    [Theory]
    [MemberData(nameof(WrongFiles))]
    public void Files_that_cannot_be_are_refused_with_why(FilesEdit wrong, string why)
    {
        var edit = wrong.Apply(s_session, s_before, 0);
        Assert.Null(edit.After);
        Assert.Contains(why, edit.Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void Files_begin_on_the_beat_before()
    {
        var edit = FilesEdit.OnBeat(s_session, s_before, s_session.Clock.SampleAt(3) + 100);
        Assert.Equal((RangeStart.Chosen, s_session.Clock.SampleAt(3)), (edit.After!.From, edit.After.ChosenStart));
        Assert.StartsWith("files from 1.4", edit.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void Overs_are_met_with_float_or_lowered()
    {
        Assert.Equal("32 bit float", FilesEdit.AsFloat(s_before with { Container = SoundContainer.Wav }).Words);
        Assert.Equal(OversPolicy.Lower, MixEdit.LowerOvers(s_before).After!.Overs);
        Assert.Equal("mix before the master's effects", MixEdit.BeforeMaster(s_before with { Mix = s_before.Mix with { Master = StemMaster.Through } }).Words);
    }

    private static IntakeItem Item(string id, bool sound = false) => new()
    {
        Id = id,
        Name = $"in/{id}.wav",
        Sha256 = id,
        Sound = sound ? new Sounds.SoundFileFacts("WAVE", SampleEncoding.Integer16, 1, "48000", 10, null, []) : null,
    };

    private static readonly IntakeState s_intake = new() { Items = [Item("a", true), Item("b", true), Item("map")] };

    private static IntakeEdits Intake(IntakeState? before = null)
    {
        var session = s_session with { Media = [new Media { Id = "m1", FileName = "m1.wav", Channels = 1 }, new Media { Id = "m2", FileName = "m2.wav", Channels = 1 }] };
        Core.Relinking.Evidence Doubt(string item) => new(item, item, 1, [], []);
        var missing = new[] { new MissingMedia("m1", "m1.wav", "mono", 1, "bell", "none is beyond doubt", [Doubt("a")]), new MissingMedia("m2", "m2.wav", "mono", 1, "horn", "two could be it", [Doubt("a"), Doubt("b")]) };
        return new(before ?? s_intake, session, new JoinedSession(session, new Dictionary<string, PlacedItem>(), missing, [], [], null, [], ["Suite", "Encore"], []));
    }

    [Fact]
    public void A_source_is_placed_and_says_so()
    {
        var edit = Intake().Place("a", PlacementRule.Offset, "−1 200 samples");
        Assert.Equal(new Placement(PlacementRule.Offset, -1200), edit.After!.Items[0].Placement);
        Assert.Equal("placed a.wav at sample -1200", edit.Words);
        Assert.Equal("placed a.wav at session start", Intake().Place("a", PlacementRule.SessionStart, null).Words);
        Assert.NotNull(Intake().Place("a", PlacementRule.Offset, "soon").Problem);
        Assert.NotNull(Intake().Place("gone", PlacementRule.SessionStart, null).Problem);
    }

    [Fact]
    public void Each_file_is_taken_for_one_medium_in_doubt()
    {
        var links = Intake().LinkLikeliest().After!.Links;
        Assert.Equal([("m1", "a"), ("m2", "b")], links.Select(l => (l.Key, l.Value)).Order());
        var taken = Intake(s_intake with { Links = new Dictionary<string, string> { ["m9"] = "a" } }).LinkLikeliest().After!.Links;
        Assert.False(taken.ContainsKey("m1"));
        Assert.Equal("m1.wav is b.wav", Intake().Link("m1", "b").Words);
        Assert.NotNull(Intake().Link("m1", "map").Problem);
        Assert.Equal(["m2"], Intake(s_intake with { Links = links }).Unlink("m1").After!.Links.Keys);
    }

    [Fact]
    public void A_rate_is_declared_and_taken_back()
    {
        Assert.Equal("44100", Intake().DeclareRate("a", "44100").After!.Items[0].DeclaredRate);
        Assert.Equal("a.wav has the rate of its header again", Intake().DeclareRate("a", null).Words);
        Assert.Contains("no rate", Intake().DeclareRate("a", "17").Problem!, StringComparison.Ordinal);
        Assert.NotNull(Intake().DeclareRate("map", "44100").Problem);
    }

    [Fact]
    public void Who_leads_and_whose_markers_count_is_decided()
    {
        var edited = s_intake with { ChannelEdits = [new ChannelEdit(["bell"], null, [])] };
        Assert.Equal(("map", "map.wav leads in tempo and meter"), (Intake().Lead("map").After!.MapFrom, Intake().Lead("map").Words));
        Assert.NotNull(Intake().Lead("gone").Problem);
        Assert.Equal(("a", null), (Intake().MarkersFrom("a").After!.MarkersFrom, Intake().MarkersFrom(null).After!.MarkersFrom));
        Assert.Empty(Intake(edited).TakeComposition("Encore").After!.ChannelEdits);
        Assert.NotNull(Intake().TakeComposition("Overture").Problem);
        Assert.Empty(Intake(edited).UndoChannels().After!.ChannelEdits);
        Assert.Equal("joined bell and horn to Both", Intake().Join(new ChannelEdit(["bell", "horn"], "Both", []), "Both").Words);
        Assert.NotNull(Intake().Split("bell").Problem);
    }

    [Fact]
    public void The_facts_of_a_session_are_checked()
    {
        var edit = Intake().Facts(" Suite ", "Transfer", "25", "10:00:00:00");
        Assert.Equal(("Suite", "25", "10:00:00:00"), (edit.After!.SessionName, edit.After.FrameRate, edit.After.Start));
        Assert.Equal("Transfer", Intake().Facts("", "Transfer", "25", null).After!.SessionName);
        Assert.Contains("no frame rate", Intake().Facts("", "Transfer", "26", null).Problem!, StringComparison.Ordinal);
        Assert.Contains("no timecode", Intake().Facts("", "Transfer", "25", "10:00:00:25").Problem!, StringComparison.Ordinal);
    }
}
