using System.Globalization;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Arriving;

/// <summary>What became of tempo and meters: every place at which the tempo changes lies as far from the first as it was sent, and every meter begins where it did.</summary>
/// <param name="sent">What was sent.</param>
/// <param name="found">What the other side has.</param>
/// <param name="shift">Quarters by which its music lies later, counted from bar 1.</param>
/// <param name="findings">Gets what differs.</param>
internal sealed class ArrivalMap(Session sent, Session found, double shift, ArrivalFindings findings)
{
    // MIDI has whole microseconds a quarter: half of one for every quarter, and a sample for the rest.
    private const double MicrosecondOff = 0.5e-6;

    // The last tempo goes on: so far beyond it is looked whether it is the same.
    private const long Beyond = 64;
    private readonly Rational _shift = Rational.FromDouble(shift, 1 << 20);

    /// <summary>Compares both.</summary>
    public void Compare()
    {
        Tempo();
        Meters();
    }

    private void Tempo()
    {
        var places = sent.Tempo.Points.Select(p => p.Quarter).Append(Rational.Zero).Append(sent.Clock.QuarterAt(sent.EndSample)).Append(sent.Tempo.Points[^1].Quarter + Beyond).Where(q => q >= sent.Tempo.Points[0].Quarter).Distinct().Order().ToList();
        var off = places.Select(q => (Quarter: q, Seconds: Seconds(found, q + _shift, places[0] + _shift) - Seconds(sent, q, places[0]))).Where(p => Math.Abs(p.Seconds) > Bound(p.Quarter - places[0])).ToList();
        if (off.Count == 0)
        {
            return;
        }

        if (found.Tempo.Points.Count == 1 && sent.Tempo.Points.Count > 1)
        {
            findings.Common($"The tempo map did not come: it is {Bpm(found.Tempo.Points[0].QuartersPerMinute)} all through there.");
            return;
        }

        // The first one moves all that follow: its cause lies just before it.
        var (first, seconds) = off[0];
        var before = places.Last(q => q < first);
        var samples = (long)Math.Round(seconds * sent.Rate.PerSecond.ToDouble());
        findings.Row(Bar(before), "tempo", Bpm(sent.Tempo.TempoAt(before)), Bpm(found.Tempo.TempoAt(before + _shift)), $"{ArrivalFindings.Signed(samples)} samples by {Bar(first)}");
    }

    private double Bound(Rational quarters) => (1 / sent.Rate.PerSecond.ToDouble()) + (MicrosecondOff * quarters.ToDouble());

    private static double Seconds(Session session, Rational quarter, Rational from) => (session.Tempo.SecondsAt(quarter) - session.Tempo.SecondsAt(from)).ToDouble();

    private void Meters()
    {
        var others = sent.Meters.Changes.Where(c => !Same(c)).ToList();
        if (others.Count > 0 && others.Count == sent.Meters.Changes.Count && found.Meters.Changes.Count == 1)
        {
            findings.Common($"The meters did not come: it is {Words(found.Meters.Changes[0])} all through there.");
            return;
        }

        foreach (var change in others)
        {
            findings.Row($"bar {change.Bar}", "meter", Words(change), Words(There(change)), Words(change) == Words(There(change)) ? "not at the beginning of a bar there" : "another");
        }
    }

    // The first meter reaches back: a bar line there need not be one of the other side's, whose first bar may be a pick-up.
    private bool Same(MeterChange change) => There(change) is var there && there.Beats == change.Beats && there.BeatUnit == change.BeatUnit
        && (change == sent.Meters.Changes[0] || found.Meters.PositionAt(sent.Meters.StartOfBar(change.Bar) + _shift) is { Beat: 1, Tick.Sign: 0 });

    private MeterChange There(MeterChange change) => found.Meters.MeterOfBar(found.Meters.PositionAt(sent.Meters.StartOfBar(change.Bar) + _shift).Bar);

    private string Bar(Rational quarter) => $"bar {sent.Meters.NearestTick(quarter)}";

    private static string Words(MeterChange meter) => $"{meter.Beats}/{meter.BeatUnit}";

    private static string Bpm(Rational tempo) => string.Create(CultureInfo.InvariantCulture, $"{tempo.ToDouble():0.###} quarters a minute");
}
