using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>What is done about flags: a mend takes the trouble away, an answer closes it and goes along.</summary>
public class FlagMendTests
{
    private const long Length = 480_000;

    private static readonly Session s_session = new()
    {
        Name = "Orrery Suite",
        Media =
        [
            new Media { Id = "mono", FileName = "mono.wav", Rate = SampleRate.Hz48000, Length = Length, Place = MediaPlace.Beside },
            new Media { Id = "twice", FileName = "twice.wav", Rate = SampleRate.Hz48000, Length = Length, Channels = 2, Place = MediaPlace.Beside },
        ],
        Tracks =
        [
            Sounding("hidden") with { State = TrackState.Hidden }, Sounding("muted") with { State = TrackState.Muted }, Sounding("off") with { State = TrackState.SwitchedOff },
            Sounding("twice", "twice") with { Channels = 2 }, Sounding("upside") with { Inverted = true }, Sounding("bass") with { Inserts = [new Insert("drive and cabinet")] },
            Sounding("squashed") with { Inserts = [new Insert("limiter")], Sends = [new Send("hall", -6, false)] }, Sounding("held") with { Sends = [new Send("echo", -6, false)] },
            new Track { Id = "hall", Name = "Long hall", Kind = TrackKind.Return, Channels = 2 }, new Track { Id = "echo", Name = "Echo wall", Kind = TrackKind.Return, Channels = 2 },
            new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2, Inserts = [new Insert("limiter")] },
        ],
    };

    private static readonly Preparation s_before = Treating(
        Preparation.Default(s_session, SessionFormats.Usual) with { Mix = new MixChoices { Stems = true, Master = StemMaster.Through, Sounding = MixSounding.AllHere } },
        ("squashed", Treatment.PrintThrough), ("held", Treatment.HoldBack), ("echo", Treatment.PrintThrough));

    private static Track Sounding(string id, string media = "mono") => new()
    {
        Id = id,
        Name = id,
        Lanes = [new Lane("main", [new Clip { Id = $"{id}-clip", Name = id, Media = media, Start = 7, Length = Length, ChannelMap = media == "mono" ? [0] : [0, 1] }])],
    };

    private static Preparation Treating(Preparation preparation, params (string Track, Treatment Treatment)[] changes)
    {
        var by = changes.ToDictionary(c => c.Track, c => c.Treatment);
        return preparation with { Tracks = [.. preparation.Tracks.Select(c => c with { Treatment = by.GetValueOrDefault(c.TrackId, c.Treatment) })] };
    }

    private static IReadOnlyList<FlagGroup> Groups(Preparation preparation) => FlagGroup.Of(
        new FlagFinder(new FlagFacts(s_session, preparation) { Sounds = new Dictionary<string, MediaSound> { ["twice"] = new(0, Length, 0.5, double.NegativeInfinity, 0) } }).Flags(), preparation.Answers);

    [Fact]
    public void Every_mend_takes_its_flag_away_and_is_named()
    {
        var groups = Groups(s_before);
        var mended = groups.Where(g => FlagMends.WordsOf(g.Kind) is not null).ToList();
        Assert.Equal(
            ["sound-maker", "lost-return", "hidden-track", "muted-track", "switched-off-track", "wet-and-dry", "equal-channels", "inverted-track", "inside-limiter", "master-limiter"],
            mended.Select(g => g.Kind.Code));
        foreach (var group in mended)
        {
            var edit = FlagMends.Mend(s_session, s_before, group);
            Assert.StartsWith(group.Title, edit.Words, StringComparison.Ordinal);
            Assert.DoesNotContain(Groups(edit.After!), g => g.Kind == group.Kind);
        }

        var frames = Treating(s_before, ("bass", Treatment.KeepClips));
        frames = frames with { Clips = frames.Clips with { FrameUnits = true } };
        var off = Groups(frames).Single(g => g.Kind == FlagKinds.SubFrame);
        Assert.DoesNotContain(Groups(FlagMends.Mend(s_session, frames, off).After!), g => g.Kind == FlagKinds.SubFrame);

        // All of them one after the other: nothing is left that could be mended, and nothing new came of it.
        var after = s_before;
        for (var group = Next(after); group is not null; group = Next(after))
        {
            after = FlagMends.Mend(s_session, after, group).After!;
        }

        Assert.All(Groups(after), g => Assert.Null(FlagMends.WordsOf(g.Kind)));

        static FlagGroup? Next(Preparation preparation) => Groups(preparation).FirstOrDefault(g => FlagMends.WordsOf(g.Kind) is not null);
    }

    [Fact]
    public void What_no_step_mends_is_refused_in_words()
    {
        var tooShort = new FlagGroup(FlagKinds.MissingMedia, [new Flag(FlagKinds.MissingMedia, "bell.wav is missing", "1 clip")], null);
        Assert.Contains("cannot be mended here", FlagMends.Mend(s_session, s_before, tooShort).Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void An_answer_is_kept_with_the_preparation_and_taken_back()
    {
        var group = Groups(s_before).Single(g => g.Kind == FlagKinds.MutedTrack);
        var noted = FlagMends.Answer(s_before, group, accepted: false, "  A scratch, not for you. ");
        Assert.Equal($"{group.Title}: noted", noted.Words);
        var answer = Assert.Single(noted.After!.Answers);
        Assert.Equal(("muted-track", "A scratch, not for you.", false), (answer.Code, answer.Note, answer.Accepted));
        Assert.False(Groups(noted.After!).Single(g => g.Kind == FlagKinds.MutedTrack).IsOpen);
        Assert.Equal(noted.After, PreparationDocument.Read(PreparationDocument.Write(noted.After!), "kept"));

        var accepted = FlagMends.Answer(noted.After!, group, accepted: true, null);
        Assert.Equal(("", true), (Assert.Single(accepted.After!.Answers).Note, accepted.After!.Answers[0].Accepted));
        Assert.Empty(FlagMends.Answer(accepted.After!, group, accepted: false, " ").After!.Answers);
        Assert.NotNull(FlagMends.Answer(s_before, group, accepted: true, new string('x', FlagAnswer.MostLetters + 1)).Problem);
    }
}
