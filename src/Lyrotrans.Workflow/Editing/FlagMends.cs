using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What is done about flags: mended where one step of the preparation does it, accepted, or noted for the receiver.</summary>
public static class FlagMends
{
    private static readonly Dictionary<FlagKind, (string Words, Func<Session, Preparation, IReadOnlyList<Flag>, Preparation> Mend)> s_all = new()
    {
        [FlagKinds.HiddenTrack] = ("let them go", Go),
        [FlagKinds.MutedTrack] = ("let them go", Go),
        [FlagKinds.SwitchedOffTrack] = ("let them go", Go),
        [FlagKinds.EqualChannels] = ("send as mono", (session, p, flags) => Change(p, Using(session, flags), c => c with { Channels = DeliveredChannels.Mono })),
        [FlagKinds.Inverted] = ("print inverted", (_, p, flags) => Change(p, Tracks(flags), c => c with { Inverted = true })),
        [FlagKinds.SoundMaker] = ("print through", (_, p, flags) => Treat(p, Tracks(flags), Treatment.PrintThrough)),
        [FlagKinds.InsideLimiter] = ("print dry", Dry),
        [FlagKinds.LostReturn] = ("let them go as prints", (_, p, flags) => Treat(p, Tracks(flags), Treatment.PrintThrough)),
        [FlagKinds.WetAndDry] = ("hold them back", (_, p, flags) => Treat(p, Tracks(flags), Treatment.HoldBack)),
        [FlagKinds.TwoTakes] = ("hold the takes back", (_, p, flags) => Treat(p, Tracks(flags), Treatment.HoldBack)),
        [FlagKinds.PrintedTwice] = ("hold the prints back", (_, p, flags) => Treat(p, Tracks(flags), Treatment.HoldBack)),
        [FlagKinds.MasterLimiter] = ("take stems before it", (_, p, _) => p with { Mix = p.Mix with { Master = StemMaster.Before } }),
        [FlagKinds.LongName] = ("make names fit", Fitted),
        [FlagKinds.OtherLetters] = ("make names fit", Fitted),
        [FlagKinds.SubFrame] = ("places in samples", (_, p, _) => p with { Clips = p.Clips with { FrameUnits = false } }),
    };

    /// <summary>What mending a kind of flag is called; null where no step of the preparation does it.</summary>
    public static string? WordsOf(FlagKind kind) => s_all.TryGetValue(kind, out var mend) ? mend.Words : null;

    /// <summary>The preparation with a kind of flag mended.</summary>
    public static Edit<Preparation> Mend(Session session, Preparation preparation, FlagGroup group) => !s_all.TryGetValue(group.Kind, out var mend)
        ? new Refused($"\"{group.Title}\" cannot be mended here: {group.Kind.Costs}")
        : new Edit<Preparation>(mend.Mend(session, preparation, group.Flags), $"{group.Title}: {mend.Words}", null);

    /// <summary>The preparation with a kind of flag answered.</summary>
    /// <param name="preparation">As it stands.</param>
    /// <param name="group">What is answered.</param>
    /// <param name="accepted">Whether it may stay as it is.</param>
    /// <param name="note">A sentence for the receiver; none, with nothing accepted, takes the answer back.</param>
    public static Edit<Preparation> Answer(Preparation preparation, FlagGroup group, bool accepted, string? note)
    {
        var said = (note ?? string.Empty).Trim();
        return said.Length > FlagAnswer.MostLetters ? new Refused($"This note has {Digits.Grouped(said.Length)} characters; at most {FlagAnswer.MostLetters} are possible.")
            : !accepted && said.Length == 0 ? new Edit<Preparation>(preparation.Answering(group.Kind.Code, null), $"{group.Title}: open again", null)
            : new Edit<Preparation>(preparation.Answering(group.Kind.Code, group.Answered(accepted, said)), $"{group.Title}: {(accepted ? "accepted" : "noted")}", null);
    }

    private static IEnumerable<string> Tracks(IReadOnlyList<Flag> flags) => flags.Select(f => f.TrackId).OfType<string>();

    // A flag of a file names the first clip that plays it; all others of the file are meant.
    private static IEnumerable<string> Using(Session session, IReadOnlyList<Flag> flags)
    {
        var clips = flags.Select(f => f.ClipId).ToHashSet();
        var media = session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Where(c => clips.Contains(c.Id)).Select(c => c.Media).ToHashSet();
        return session.Tracks.Where(t => t.Lanes.Any(l => l.Clips.Any(c => media.Contains(c.Media)))).Select(t => t.Id);
    }

    private static Preparation Go(Session session, Preparation preparation, IReadOnlyList<Flag> flags)
    {
        var roles = TrackRoles.Of(session);
        var offered = session.Tracks.ToDictionary(t => t.Id, t => t.Kind == TrackKind.Notes && roles.PrintOf(t.Id) is not null ? Treatment.NotesAndPrint : Preparation.TreatmentsOf(t)[0]);
        return Change(preparation, Tracks(flags), c => c with { Treatment = offered[c.TrackId] });
    }

    private static Preparation Fitted(Session session, Preparation preparation, IReadOnlyList<Flag> flags) => SheetNames.Fitted(preparation, DeliveredNames.Of(session, preparation));

    private static Preparation Dry(Session session, Preparation preparation, IReadOnlyList<Flag> flags)
    {
        var audio = session.Tracks.Where(t => t.Kind == TrackKind.Audio).Select(t => t.Id).ToHashSet();
        return Treat(preparation, Tracks(flags).Where(audio.Contains), Treatment.PrintDry);
    }

    private static Preparation Treat(Preparation preparation, IEnumerable<string> tracks, Treatment treatment) => Change(preparation, tracks, c => c with { Treatment = treatment });

    private static Preparation Change(Preparation preparation, IEnumerable<string> tracks, Func<TrackChoice, TrackChoice> change)
    {
        var meant = tracks.ToHashSet();
        return preparation with { Tracks = [.. preparation.Tracks.Select(c => meant.Contains(c.TrackId) ? change(c) : c)] };
    }
}
