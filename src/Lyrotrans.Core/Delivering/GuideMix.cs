using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Delivering;

/// <summary>The guide mix that is made here.</summary>
public static class GuideMix
{
    /// <summary>What a guide mix made here would lack or play by a stand-in; null where nothing would sound in it at all.</summary>
    public static IReadOnlyList<string>? Lacks(Session session, Preparation preparation)
    {
        var sounding = MixTracks.Of(session, preparation);
        if (sounding.Count == 0)
        {
            return null;
        }

        // The mix alone, of the same tracks.
        var alone = preparation with
        {
            Mix = new MixChoices(Guide: true, Sounding: MixSounding.OnlyMarked, Master: preparation.Mix.Master),
            Tracks = [.. preparation.Tracks.Select(c => c with { Treatment = Treatment.HoldBack, Marked = sounding.Contains(c.TrackId), Beneath = [], Spares = false })],
        };
        return [.. DeliveryPlan.Make(session, alone, new Dictionary<string, MediaSound>()).Gaps.All.Select(g => g.Of[(g.Of.LastIndexOf('/') + 1)..])];
    }
}
