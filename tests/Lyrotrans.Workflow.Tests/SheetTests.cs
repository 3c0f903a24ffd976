using System.Text;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What receiving rooms take, as sheets.</summary>
public class SheetTests
{
    private static readonly Session s_session = new()
    {
        Name = "Orrery Suite",
        Media = [new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Length = 480_000, Place = MediaPlace.Beside }],
        Tracks = [Sounding("bell", "Bell of the long gallery, second night"), Sounding("horn", "Hörner"), new Track { Id = "keys", Name = "Celesta", Kind = TrackKind.Notes, Channels = 0 }],
    };

    private static readonly Preparation s_before = Preparation.Default(s_session, SessionFormats.Usual);

    private static readonly ReceiverList s_one = ReceiverList.One("Tarn Lane", s_before);

    private static Track Sounding(string id, string name) => new() { Id = id, Name = name, Lanes = [new Lane("main", [new Clip { Id = $"{id}-clip", Name = id, Media = "m", Length = 480_000 }])] };

    private static ReceiverSheet Read(string json) => ReceiverSheet.Read(Encoding.UTF8.GetBytes(json), "sheet.json");

    private static Preparation Applied(string json, Preparation? before = null) => Read(json).Apply(before ?? s_before, s_session);

    private static string Json(object sheet) => System.Text.Json.JsonSerializer.Serialize(sheet);

    [Fact]
    public void The_sheets_that_come_along_are_of_seven_kinds_of_job_and_give_as_many_preparations()
    {
        Assert.Equal(
            ["Mixing, from clips", "Mixing, from files", "Remix", "Mastering", "Picture editing", "Playing one part", "Archive"],
            ShippedSheets.All.Select(s => s.Sheet.Terms!.Name));
        var made = ShippedSheets.All.Select(s => s.Sheet.Apply(s_before, s_session)).ToList();
        Assert.Equal(made.Count, made.Select(m => m with { Sheet = null }).Distinct().Count());
        Assert.All(made, m => Assert.True(Preparation.CanHold(m.Container, m.Encoding)));
        Assert.All(made, m => Assert.Equal(m, PreparationDocument.Read(PreparationDocument.Write(m), "kept")));

        // The same sheet again changes nothing more.
        Assert.Equal(made, ShippedSheets.All.Zip(made, (s, m) => s.Sheet.Apply(m, s_session)));
    }

    [Fact]
    public void What_a_sheet_says_nothing_of_stays_in_parts_too()
    {
        var before = s_before with { Tail = 7, Clips = s_before.Clips with { Handle = 77, MonoOnly = false }, Mix = s_before.Mix with { Levels = true }, Accepted = ["missing m.wav"] };
        var after = Applied(Json(new { sheetVersion = 1, name = "x", clips = new { trimmed = true }, mix = new { guide = true } }), before);
        Assert.Equal(before with { Sheet = new SheetTerms("x"), Clips = before.Clips with { Trimmed = true }, Mix = before.Mix with { Guide = true } }, after);
        var frames = s_before with { Clips = s_before.Clips with { Handle = 50, HandleUnit = HandleUnit.Frames } };
        Assert.Equal((750, HandleUnit.Milliseconds), Applied(Json(new { sheetVersion = 1, name = "x", clips = new { handle = 750 } }), frames).Clips is var clips ? (clips.Handle, clips.HandleUnit) : default);
        Assert.Equal(["keep clips", "keep clips", "notes"], Applied(Json(new { audio = "keep clips" })).Tracks.Select(c => Choices.Treatments[c.Treatment].Id.Replace("hold back", "notes", StringComparison.Ordinal)));
    }

    [Theory]
    [InlineData("""{"sheetVersion":2,"name":"x"}""", "$.sheetVersion")]
    [InlineData("""{"sheetVersion":1}""", "$")]
    [InlineData("""{"sheetVersion":1,"name":" "}""", "$.name")]
    [InlineData("""{"sheetVersion":1,"name":"x","clips":{"handle":36000000}}""", "$.clips.handle")]
    [InlineData("""{"sheetVersion":1,"name":"x","namePattern":"---"}""", "$.namePattern")]
    [InlineData("""{"sheetVersion":1,"name":"x","longestName":0}""", "$.longestName")]
    [InlineData("""{"sheetVersion":1,"name":"x","frameRate":"26"}""", "$.frameRate")]
    [InlineData("""{"sheetVersion":1,"name":"x","container":"flac","encoding":"float 32"}""", "$")]
    [InlineData("""{"sheetVersion":1,"name":"x","chosenStart":5}""", "$")]
    [InlineData("""{"sheetVersion":1,"name":"x","tracks":[]}""", "$")]
    [InlineData("""{"sheetVersion":1,"name":"x","audio":"fly"}""", "$.audio")]
    [InlineData("""{"clips":{"media":"on tape"}}""", "$.clips.media")]
    [InlineData("""{"clips":4}""", "$.clips")]
    [InlineData("""[1]""", "$")]
    [InlineData("""{"name":""", null)]
    public void A_sheet_of_a_newer_version_or_with_values_that_cannot_be_is_refused_with_its_place(string json, string? path)
    {
        var problem = Assert.Throws<BadInputException>(() => Read(json));
        Assert.Equal("sheet.json", problem.File);
        if (path is not null)
        {
            Assert.Equal(path, problem.Where);
        }
    }

    [Fact]
    public void What_a_receiver_gets_can_be_kept_as_a_sheet_and_gives_the_same_to_another()
    {
        foreach (var shipped in ShippedSheets.All)
        {
            var made = shipped.Sheet.Apply(s_before, s_session);
            var kept = Read(ReceiverSheet.Of(made.Sheet! with { Name = "kept" }, made, null));
            Assert.Equal("kept", kept.Terms!.Name);
            var again = kept.Apply(s_before, s_session);
            Assert.Equal(made with { Sheet = null, Tracks = s_before.Tracks }, again with { Sheet = null });
            Assert.Equal(made.Sheet with { Name = "kept" }, again.Sheet);
        }

        // What only this session has is in no sheet.
        var json = ReceiverSheet.Of(new SheetTerms("x"), s_before with { From = RangeStart.Chosen, ChosenStart = 9, ChosenEnd = 99 }, Treatment.PrintDry);
        Assert.Equal("print dry", JsonNode.Parse(json)!["audio"]!.GetValue<string>());
        Assert.DoesNotContain("chosen", json, StringComparison.OrdinalIgnoreCase);
    }

    [Fact]
    public void Choosing_a_sheet_says_what_it_changed_and_what_differs_from_it_afterwards_is_shown()
    {
        var sheet = ShippedSheets.All[0];
        var chosen = SheetEdits.Choose(s_one, s_one.First, sheet.Json, "clips", s_session);
        var receiver = chosen.After!.First;
        Assert.Matches(@"^sheet Mixing, from clips, \d+ changes$", chosen.Words);
        Assert.Equal((sheet.Json, sheet.Sheet.Terms), (receiver.Sheet, receiver.Preparation.Sheet));
        Assert.Empty(SheetEdits.Differences(receiver, s_session));
        Assert.Equal(chosen.After, ReceiversDocument.Read(ReceiversDocument.Write(chosen.After!), "kept"));

        var other = receiver with { Preparation = receiver.Preparation with { Encoding = SampleEncoding.Float32, Tracks = [.. receiver.Preparation.Tracks.Select(c => c.TrackId == "horn" ? c with { Treatment = Treatment.PrintDry } : c)] } };
        Assert.Equal([("depth", "32 bit float", "24 bit"), ("Hörner", "print dry", "keep clips")], SheetEdits.Differences(other, s_session).Select(d => (d.Name, d.For[0], d.For[1])));
        var left = SheetEdits.Leave(s_one.With(other), other).After!.First;
        Assert.Equal((null, null, other.Preparation with { Sheet = null }), (left.Sheet, left.Preparation.Sheet, left.Preparation));
    }

    [Fact]
    public void Names_files_and_frames_are_held_to_the_sheet_and_names_are_made_to_fit()
    {
        var prepared = Applied(Json(new { sheetVersion = 1, name = "Lantern House", namePattern = "{track}", longestName = 12, letters = "plain", largestFile = 1 << 20, frameRate = "29.97 drop" }));
        IReadOnlyList<FlagGroup> Groups(Preparation p) => FlagGroup.Of(new FlagFinder(new FlagFacts(s_session, p) { Files = DeliveryPlan.Make(s_session, p, new Dictionary<string, MediaSound>()).Files }).Flags(), []);
        var found = Groups(prepared).Select(g => g.Kind).ToList();
        Assert.Contains(FlagKinds.LargeFile, found);
        Assert.Contains(FlagKinds.OtherFrames, found);
        Assert.Contains(FlagKinds.LongName, found);
        var letters = Groups(prepared).Single(g => g.Kind == FlagKinds.OtherLetters);
        Assert.Contains("It could be Horner", letters.Flags.Select(f => f.Detail));
        var fitted = FlagMends.Mend(s_session, prepared, letters).After!;
        Assert.DoesNotContain(Groups(fitted), g => g.Kind == FlagKinds.LongName || g.Kind == FlagKinds.OtherLetters);
        var names = DeliveredNames.Of(s_session, fitted).Values.ToList();
        Assert.Equal(names.Count, names.Distinct(StringComparer.OrdinalIgnoreCase).Count());
        Assert.Contains("Horner", names);

        // Names that are the same where they are cut off are told apart, within the length.
        var same = new Dictionary<string, string> { ["bell"] = "the same name, one", ["horn"] = "the same name, two", ["keys"] = "THE SAME NAME" };
        var own = SheetNames.Fitted(prepared, same).Tracks.Select(c => c.Name!).ToList();
        Assert.Equal(["the_same_nam", "the_same_n_2", "THE_SAME_N_3"], own);

        // What is cut off before a blank is the other's name as a file.
        var blank = SheetNames.Fitted(prepared, new Dictionary<string, string> { ["bell"] = "Narrator on", ["horn"] = "Narrator on take 4", ["keys"] = "Celesta" });
        Assert.Equal(["Narrator_on", "Narrator_o_2", "Celesta"], blank.Tracks.Select(c => c.Name!));
    }

    [Fact]
    public void What_cannot_be_built_yet_is_said_before_the_build()
    {
        foreach (var (sheet, words) in new[] { ((object)new { sheetVersion = 1, name = "Lantern House", picture = "25 frames, burnt in" }, "burnt in"),
            (new { sheetVersion = 1, name = "Lantern House", start = "01:00:00:00" }, "start at 01:00:00:00") })
        {
            var plan = DeliveryPlan.Make(s_session, Applied(Json(sheet)), new Dictionary<string, MediaSound>());
            Assert.Contains(words, plan.Problem, StringComparison.Ordinal);
            Assert.Contains("Lantern House", plan.Problem, StringComparison.Ordinal);
        }

        // The rate that a room asks for is the one that files go at; another that is chosen then is said.
        var asked = Applied(Json(new { sheetVersion = 1, name = "Lantern House", rate = 44_100 }));
        Assert.Equal(44_100, asked.Rate);
        Assert.Null(DeliveryPlan.Make(s_session, asked, new Dictionary<string, MediaSound>()).Problem);
        Assert.Contains("Lantern House asks for 44100 Hz", DeliveryPlan.Make(s_session, asked with { Rate = null }, new Dictionary<string, MediaSound>()).Problem, StringComparison.Ordinal);
        Assert.Null(DeliveryPlan.Make(s_session, Applied(Json(new { sheetVersion = 1, name = "x", rate = 48_000, start = s_session.Start.ToString() })), new Dictionary<string, MediaSound>()).Problem);
    }

    [Fact]
    public void Of_formats_the_one_that_is_liked_best_is_chosen_and_an_unknown_one_is_refused_in_words()
    {
        Assert.Equal("OMF", Applied(Json(new { sheetVersion = 1, name = "x", formats = "OMF, AAF" })).Clips.Format.Id);
        Assert.Equal("OTIO", Applied(Json(new { sheetVersion = 1, name = "x", formats = "OMF, AAF", clips = new { file = "OTIO" } })).Clips.Format.Id);
        Assert.Equal(s_before.Clips.Format.Id, Applied(Json(new { sheetVersion = 1, name = "x", formats = "" })).Clips.Format.Id);
        Assert.Contains("no format of clips \"XYZ\"", Assert.Throws<BadInputException>(() => Read(Json(new { sheetVersion = 1, name = "x", formats = "AAF, XYZ" }))).Message, StringComparison.Ordinal);
        Assert.Contains("no timecode", Assert.Throws<BadInputException>(() => Read(Json(new { sheetVersion = 1, name = "x", start = "ten o'clock" }))).Message, StringComparison.Ordinal);
    }
}
