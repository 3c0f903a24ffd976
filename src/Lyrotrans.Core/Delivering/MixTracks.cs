using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>Which tracks play in the guide mix and in prints of returns and buses, as <see cref="MixSounding"/> says. Stems are of what goes: see <see cref="StemGroup"/>.</summary>
public static class MixTracks
{
    /// <summary>Ids of those with sound or notes of their own; a stem that came along, or the print of a bus or return, where anything of what it is made of plays.</summary>
    public static IReadOnlySet<string> Of(Session session, Preparation preparation) => Playing(session, Chosen(session, preparation));

    /// <summary>What sounds, for whoever gets it: "everything that sounds here", "all but Cello".</summary>
    public static string Words(Session session, Preparation preparation)
    {
        var marked = preparation.Tracks.Where(c => c.Marked).Select(c => c.TrackId).ToHashSet();
        var names = session.Tracks.Where(t => marked.Contains(t.Id)).Select(t => t.Name).DefaultIfEmpty("none").ToList();
        return preparation.Mix.Sounding switch
        {
            MixSounding.AllButMarked => $"all but {Phrases.List(names, "and")}",
            MixSounding.OnlyMarked => $"{Phrases.List(names, "and")} only",
            var sounding => Choices.Soundings[sounding].Words,
        };
    }

    /// <summary>Whether anything is made of them: the guide mix, the finished mix, or the print of a return or bus that has none.</summary>
    public static bool AreNeeded(Session session, Preparation preparation)
    {
        var roles = TrackRoles.Of(session);
        var targets = session.Tracks.Where(t => t.Kind is TrackKind.Bus or TrackKind.Return && roles.PrintOf(t.Id) is null).Select(t => t.Id).ToHashSet();
        return preparation.Mix.Finished || (preparation.Mix.Guide && roles.Guide is null) || preparation.Tracks.Any(c => c.Treatment.IsPrint() && targets.Contains(c.TrackId));
    }

    /// <summary>Of some tracks and what is made of them, those that play.</summary>
    internal static IReadOnlySet<string> Playing(Session session, IReadOnlySet<string> chosen)
    {
        var roles = TrackRoles.Of(session);
        return session.Tracks.Where(t => roles.Plays(t) && (chosen.Contains(t.Id) || (!t.Kind.IsSource() && roles.MadeOf(t).Overlaps(chosen)))).Select(t => t.Id).ToHashSet();
    }

    /// <summary>Ids of the tracks that go, without spare takes and further forms: those sound in nothing.</summary>
    public static IReadOnlySet<string> Going(Preparation preparation) => preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack && c.Of is null).Select(c => c.TrackId).Except(TakeTracks.SparesIn(preparation)).ToHashSet();

    private static HashSet<string> Chosen(Session session, Preparation preparation)
    {
        var marked = preparation.Tracks.Where(c => c.Marked).Select(c => c.TrackId).ToHashSet();
        return preparation.Mix.Sounding switch
        {
            MixSounding.OnlyMarked => marked,
            MixSounding.WhatGoes => [.. Going(preparation)],
            var sounding => [.. session.Tracks.Where(t => t.Kind.IsSource() && t.State == TrackState.Active && !(sounding == MixSounding.AllButMarked && marked.Contains(t.Id))).Select(t => t.Id)],
        };
    }
}
