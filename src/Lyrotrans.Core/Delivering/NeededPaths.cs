using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>The buses, returns and the master that what goes is heard through. One that only tracks feed that do not go is not needed; one that nothing feeds at all is no part of anything left out, and stays.</summary>
public static class NeededPaths
{
    /// <summary>Those that what goes feeds, directly or through others, in the order of the session.</summary>
    public static IReadOnlyList<Track> Of(Session session, Preparation preparation)
    {
        var (going, paths) = (Going(session, preparation), SignalPaths.Of(session));
        return [.. session.Tracks.Where(t => IsPath(t) && paths.Upstream(t).Overlaps(going))];
    }

    /// <summary>Ids of those that are not needed, and do not go.</summary>
    public static IReadOnlySet<string> Unneeded(Session session, Preparation preparation)
    {
        var (going, paths) = (Going(session, preparation), SignalPaths.Of(session));
        var sources = session.Tracks.Where(t => t.Kind.IsSource()).Select(t => t.Id).ToHashSet();
        var printed = preparation.Tracks.Where(c => c.Treatment.IsPrint()).Select(c => c.TrackId).ToHashSet();
        var unneeded = session.Tracks.Where(t => IsPath(t) && !printed.Contains(t.Id) && paths.Upstream(t) is var upstream && upstream.Overlaps(sources) && !upstream.Overlaps(going)).Select(t => t.Id).ToHashSet();

        // What stays may name one: as its output, or as what it is a print of.
        bool Kept(string id) => unneeded.Remove(id);
        while (session.Tracks.Where(t => !unneeded.Contains(t.Id) && (!t.Kind.IsSource() || going.Contains(t.Id))).SelectMany(Named).ToList().Exists(Kept))
        {
        }

        return unneeded;
    }

    private static IEnumerable<string> Named(Track track) => track.Sends.Select(s => s.Target).Concat(track.Of).Concat(track.Output is { } output ? [output] : []);

    private static bool IsPath(Track track) => track.Kind is TrackKind.Bus or TrackKind.Return or TrackKind.Master;

    private static HashSet<string> Going(Session session, Preparation preparation)
    {
        var going = preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId).ToHashSet();
        return [.. session.Tracks.Where(t => t.Kind.IsSource() && going.Contains(t.Id)).Select(t => t.Id)];
    }
}
