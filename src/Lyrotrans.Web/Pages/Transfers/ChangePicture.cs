using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Tracks of two states of a session, one above the other: where clips and parts lay and where they lie.</summary>
/// <param name="Rows">One for each track that differs.</param>
public sealed record ChangePicture(IReadOnlyList<ChangePicture.Row> Rows)
{
    /// <summary>How wide the picture is, in its own units.</summary>
    public const int Width = 1000;

    private const int MostTracks = 40;

    /// <summary>A span of the timeline in the picture's units, and whether it is in both states as it is.</summary>
    public sealed record Span(double X, double Length, bool Same, string Name);

    /// <summary>A track with what lay on it before and after.</summary>
    public sealed record Row(string Name, IReadOnlyList<Span> Before, IReadOnlyList<Span> After);

    public static ChangePicture Of(IReadOnlyList<(Track? Before, Track? After)> tracks, Session before, Session after)
    {
        var scale = Width / (double)Math.Max(1, Math.Max(before.EndSample, after.EndSample));
        return new([.. tracks.Take(MostTracks).Select(t =>
        {
            var (was, now) = (Things(t.Before, before), Things(t.After, after));
            var both = was.Select(s => s.Value).Intersect(now.Select(s => s.Value)).ToHashSet();
            return new Row((t.After ?? t.Before)!.Name, Spans(was, both, scale), Spans(now, both, scale));
        })]);
    }

    private static List<Span> Spans(List<(long Start, long End, string Name, object Value)> things, HashSet<object> both, double scale) =>
        [.. things.Select(t => new Span(t.Start * scale, Math.Max(1, (t.End - t.Start) * scale), both.Contains(t.Value), t.Name))];

    private static List<(long Start, long End, string Name, object Value)> Things(Track? track, Session session) =>
    [
        .. (track?.Sounding?.Clips ?? []).Select(c => (c.Start, c.End, c.Name, (object)c)),
        .. (track?.Parts ?? []).Select(p => (session.Clock.SampleAt(p.StartQuarter), session.Clock.SampleAt(p.EndQuarter), p.Name, (object)(p, session.Clock.SampleAt(p.StartQuarter)))),
    ];
}
