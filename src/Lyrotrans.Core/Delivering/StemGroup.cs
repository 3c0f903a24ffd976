using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>The tracks of one stem.</summary>
public sealed record StemGroup(string Name, ValueArray<string> Tracks)
{
    /// <summary>Every track that goes and sounds, in one group each: the one typed in, else the bus that it feeds, else the rest; a stem, or the print of a bus or return, by its own name.</summary>
    public static IReadOnlyList<StemGroup> Of(Session session, Preparation preparation)
    {
        var (tracks, roles) = (session.Tracks.ToDictionary(t => t.Id), TrackRoles.Of(session));
        return Playing(session, preparation).GroupBy(c => StemNames.Of(c, tracks, roles)).Select(g => new StemGroup(g.Key, g.Select(c => c.TrackId).ToValueArray())).ToList();
    }

    /// <summary>Ids of the tracks of all stems.</summary>
    public static IReadOnlySet<string> AllOf(Session session, Preparation preparation) =>
        MixTracks.Playing(session, MixTracks.Going(preparation));

    private static IEnumerable<TrackChoice> Playing(Session session, Preparation preparation)
    {
        var playing = AllOf(session, preparation);
        return preparation.Tracks.Where(c => playing.Contains(c.TrackId));
    }
}
