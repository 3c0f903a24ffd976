using Lyrotrans.Core.Pairing;
using Lyrotrans.Workflow.Pairing;

namespace Lyrotrans.Web.Desks;

/// <summary>The pairs among a transfer's tracks; looked for once for each session.</summary>
public sealed class PairDesk(DocumentCache cache)
{
    public IReadOnlyList<TrackPair> Of(Desk desk) => desk.Revision is { } revision
        ? cache.Get(desk.Room.Id, $"{revision.SessionSha} pairs", () => TrackPairs.Of(desk.Session, desk.Media))
        : [];
}
