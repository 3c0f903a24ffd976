using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>Tempo and key where they do not change.</summary>
/// <param name="Tempo">Quarters a minute; null where it changes.</param>
/// <param name="Key">Such as <c>Dm</c> or <c>Bb</c>; null where it changes, or none is known.</param>
public readonly record struct SteadyMusic(Rational? Tempo, string? Key)
{
    /// <summary>What does not change in a session, wherever its points lie.</summary>
    public static SteadyMusic Of(Session session) =>
        new(Only(session.Tempo.Points.Select(p => (Rational?)p.QuartersPerMinute)), Only(session.Keys.Select(NameOf)));

    /// <summary>What does not change in a range of a session. Before the first key it is that; what begins on the range's first sample holds from there, and what begins on its end is not in it.</summary>
    /// <param name="session">The session.</param>
    /// <param name="range">In session samples; an empty one is its first sample.</param>
    public static SteadyMusic In(Session session, SampleRange range)
    {
        var (start, end) = (range.Start, Math.Max(range.End, range.Start + 1));
        var points = session.Tempo.Points.Select(p => (Point: p, Sample: session.Clock.SampleAt(p.Quarter))).ToList();
        var keys = session.Keys.OrderBy(k => k.Quarter).Select(k => (Name: NameOf(k), Sample: session.Clock.SampleAt(k.Quarter))).ToList();

        // A point lies on the nearest sample, and its tempo holds from there; a ramp that is under way at the end has not come to its point.
        Rational TempoAt(long sample) => session.Tempo.TempoAt(points.Where(p => p.Sample == sample).Select(p => (Rational?)p.Point.Quarter).LastOrDefault() ?? session.Clock.QuarterAt(sample));
        var tempos = points.Where(p => p.Sample > start && p.Sample < end).Select(p => (Rational?)p.Point.QuartersPerMinute).Prepend(TempoAt(start));
        var key = keys.Where((k, i) => i == 0 || k.Sample <= start).Select(k => k.Name).LastOrDefault();
        return new(
            Only(points.LastOrDefault(p => p.Sample < end).Point.Ramp ? tempos.Append(TempoAt(end)) : tempos),
            Only(keys.Where(k => k.Sample > start && k.Sample < end).Select(k => k.Name).Prepend(key)));
    }

    private static string? NameOf(KeyChange key) => key.Name == "?" ? null : key.Name;

    private static T? Only<T>(IEnumerable<T?> values) => values.Distinct().Take(2).ToList() is [var one] ? one : default;
}
