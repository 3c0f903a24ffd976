using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// A session's tempo map as the format holds it (RP-001, FF 51): steps only, in whole microseconds a quarter.
/// </summary>
public static class TempoSteps
{
    private const int Slowest = 0xFFFFFF;

    // A hair inside the bound, because the search runs in doubles; what comes out is measured exactly.
    private const double Inside = 0.999;

    /// <summary>The steps of a session's tempo.</summary>
    /// <param name="session">Whose tempo.</param>
    /// <param name="grid">Its ticks.</param>
    /// <param name="form">How near everything is kept to its sample.</param>
    public static IReadOnlyList<TempoStep> Make(Session session, MidiGrid grid, TempoForm form) =>
        TempoBound.Of(form) is { } samples ? Bound(session, grid, samples) : Plain(session, grid);

    /// <summary>The largest distance at any check point between what is written and the session.</summary>
    public static TempoDrift Drift(Session session, MidiGrid grid, IReadOnlyList<TempoStep> steps) => Drift(session, grid, steps, grid.CheckPoints);

    /// <summary>The largest distance at places that are chosen, ascending, between what is written and the session.</summary>
    public static TempoDrift Drift(Session session, MidiGrid grid, IReadOnlyList<TempoStep> steps, IReadOnlyList<CheckPoint> places)
    {
        var worst = new Rational(-1, 1);
        Rational at = 0;
        var ticked = 0L;
        var step = 0;
        foreach (var (quarter, place, meant) in places)
        {
            while (step + 1 < steps.Count && steps[step + 1].Tick <= place)
            {
                ticked += (steps[step + 1].Tick - steps[step].Tick) * steps[step].Microseconds;
                step++;
            }

            var written = (ticked + ((place - steps[step].Tick) * steps[step].Microseconds)) / (1_000_000L * grid.Division);
            var distance = session.Rate.SamplesIn(written - meant);
            distance = distance.Sign < 0 ? -distance : distance;
            if (distance > worst)
            {
                (worst, at) = (distance, quarter);
            }
        }

        return new TempoDrift(worst.ToDouble(), session.Meters.NearestTick(at), steps.Count, session.Rate.SamplesIn(grid.Rounding).ToDouble(), Why(session, grid));
    }

    private static string? Why(Session session, MidiGrid grid) =>
        session.Tempo.Points.Any(p => p.QuartersPerMinute * Slowest < 60_000_000) ? "the format holds no quarter longer than 16.777215 s"
        : BesideBeat(session, grid) ? "the files begin less than half a tick beside a beat"
        : null;

    private static bool BesideBeat(Session session, MidiGrid grid)
    {
        var half = new Rational(1, 2);
        var beside = session.Rate.SamplesIn(grid.SecondsAt(grid.First));
        return grid.BeginsOnBeat && (beside > half || beside < -half);
    }

    private static List<TempoStep> Plain(Session session, MidiGrid grid)
    {
        // Where tick 0 is no quarter to the sample, the first quarter is played as fast as brings the second one right.
        Rational first = grid.BeginsOnBeat && !BesideBeat(session, grid) ? grid.First : 1 - grid.Lead;
        var ramps = grid.RampSteps().ToHashSet();
        var places = session.Tempo.Points.Select(p => p.Quarter).Concat(ramps).Append(first).Where(q => q >= first).ToHashSet();
        var tempo = session.Tempo;
        var points = new SortedDictionary<long, int>();
        if (grid.Tick(first) > 0)
        {
            points[0] = Clamp(grid.SecondsAt(first) * 1_000_000);
        }

        foreach (var quarter in places.Order())
        {
            points[grid.Tick(quarter)] = Clamp(MeanQuarter(tempo, quarter, ramps) * 1_000_000);
        }

        return WithoutRepeats(points.Select(p => new TempoStep(p.Key, p.Value)));
    }

    // Where tempo moves, the mean over the sixteenth that begins here.
    private static Rational MeanQuarter(TempoMap tempo, Rational quarter, HashSet<Rational> ramps)
    {
        var step = new Rational(1, 4);
        return ramps.Contains(quarter) ? (tempo.SecondsAt(quarter + step) - tempo.SecondsAt(quarter)) / step : 60 / tempo.TempoAt(quarter);
    }

    /// <summary>
    /// From each event the longest stretch that one tempo keeps within the bound at every check point; then the next. Times
    /// count from tick 0 in what was really written, so nothing adds up. A stretch ends at bar 1, so that it lies where it is meant:
    /// readers count from there.
    /// </summary>
    private static List<TempoStep> Bound(Session session, MidiGrid grid, int samples)
    {
        var places = grid.CheckPoints;
        var quarters = places.Select(p => p.Tick.ToDouble() / grid.Division).ToArray();
        var ticks = places.Select(p => p.Tick.RoundToEven()).ToArray();
        var meant = places.Select(p => p.Seconds.ToDouble() * 1_000_000).ToArray();
        var tolerance = Inside * samples * 1_000_000 / session.Rate.PerSecond.ToDouble();
        var steps = new List<TempoStep>();
        var written = 0L;
        if (ticks[0] > 0)
        {
            steps.Add(new TempoStep(0, Clamp(meant[0] / quarters[0])));
            written = steps[0].Microseconds * ticks[0];
        }

        var bar1 = places.TakeWhile(p => p.Quarter < 0).Count();
        var at = 0;
        while (at + 1 < places.Count)
        {
            var last = at < bar1 && bar1 < places.Count ? bar1 : places.Count - 1;
            var (microseconds, next) = Longest(at, last, (double)written / grid.Division, (double)ticks[at] / grid.Division, quarters, meant, tolerance);
            steps.Add(new TempoStep(ticks[at], microseconds));
            written += microseconds * (ticks[next] - ticks[at]);
            at = next;
        }

        return WithoutRepeats(steps);
    }

    private static (int Microseconds, int Next) Longest(int at, int last, double written, double from, double[] quarters, double[] meant, double tolerance)
    {
        var (low, high) = (1.0, (double)Slowest);
        var next = at;
        for (var i = at + 1; i <= last; i++)
        {
            var length = quarters[i] - from;
            var lower = Math.Max(low, Math.Ceiling((meant[i] - tolerance - written) / length));
            var upper = Math.Min(high, Math.Floor((meant[i] + tolerance - written) / length));
            if (lower > upper)
            {
                break;
            }

            (low, high, next) = (lower, upper, i);
        }

        // No whole number fits even to the next point (a tempo that the format cannot say): the nearest, and the drift says so.
        next = Math.Max(next, at + 1);
        var ideal = Math.Round((meant[next] - written) / (quarters[next] - from));
        return ((int)Math.Clamp(ideal, low, high), next);
    }

    private static List<TempoStep> WithoutRepeats(IEnumerable<TempoStep> steps)
    {
        var result = new List<TempoStep>();
        foreach (var step in steps)
        {
            if (result.Count > 0 && result[^1].Tick == step.Tick)
            {
                result.RemoveAt(result.Count - 1);
            }

            if (result.Count == 0 || result[^1].Microseconds != step.Microseconds)
            {
                result.Add(step);
            }
        }

        return result;
    }

    private static int Clamp(Rational microseconds) => microseconds > Slowest ? Slowest : Math.Max(1, (int)microseconds.RoundToEven());

    private static int Clamp(double microseconds) => (int)Math.Clamp(Math.Round(microseconds), 1, Slowest);
}
