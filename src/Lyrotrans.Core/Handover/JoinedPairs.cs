using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Handover;

/// <summary>The tracks whose channels go apart.</summary>
public static class JoinedPairs
{
    /// <summary>Those of the file of clips, then those of files from zero.</summary>
    public static ValueArray<JoinedPair> Of(DeliveryPlan plan)
    {
        var names = DeliveredNames.Texts(plan.Session, plan.Preparation);
        var arrived = plan.Clips?.Session.Tracks.ToDictionary(t => t.Id) ?? [];
        var clips = (plan.Clips?.Tracks ?? []).Where(t => t.Became.Count > 1)
            .Select(t => new JoinedPair(names[t.TrackId], [.. t.Became.Select(id => (arrived[id].Name, arrived[id].Pan))]));
        var files = plan.Files.Where(f => f is { IsSound: true, Channel: not null }).GroupBy(f => (f.Kind, f.TrackId, f.Group))
            .Select(g => new JoinedPair(g.Key.TrackId is { } track ? names[track] : g.Key.Group ?? Name(g.First()), [.. g.Select(f => (Name(f), PanOf(f.Channel!.Value, g.Count())))]));
        return [.. clips, .. files];
    }

    private static string Name(PlannedFile file) => file.Path[(file.Path.LastIndexOf('/') + 1)..];

    // Two channels are left and right; of more, nothing says where their microphones stood.
    private static double PanOf(int channel, int channels) => channels == 2 ? (channel * 2) - 1 : 0;
}
