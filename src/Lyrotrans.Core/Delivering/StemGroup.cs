using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Delivering;

/// <summary>The tracks of one stem.</summary>
public sealed record StemGroup(string Name, ValueArray<string> Tracks)
{
    private const string Rest = "Other tracks";

    /// <summary>Every track that goes and sounds, in one group each: the one typed in, else the bus that it feeds, else the rest.</summary>
    public static IReadOnlyList<StemGroup> Of(Session session, Preparation preparation)
    {
        var tracks = session.Tracks.ToDictionary(t => t.Id);
        return Playing(session, preparation).GroupBy(c => NameOf(c, tracks)).Select(g => new StemGroup(g.Key, g.Select(c => c.TrackId).ToValueArray())).ToList();
    }

    /// <summary>Ids of the tracks that play in the mix: all that go and have sound or notes of their own.</summary>
    public static IReadOnlySet<string> InMix(Session session, Preparation preparation) => Playing(session, preparation).Select(c => c.TrackId).ToHashSet();

    private static IEnumerable<TrackChoice> Playing(Session session, Preparation preparation)
    {
        var sources = session.Tracks.Where(t => t.Kind is TrackKind.Audio or TrackKind.Notes && t.HasContent).Select(t => t.Id).ToHashSet();
        return preparation.Tracks.Where(c => c.Treatment != Treatment.HoldBack && sources.Contains(c.TrackId));
    }

    private static string NameOf(TrackChoice choice, Dictionary<string, Track> tracks) =>
        choice.Group ?? (tracks[choice.TrackId].Output is { } output && tracks.TryGetValue(output, out var bus) && bus.Kind == TrackKind.Bus ? bus.Name : Rest);
}
