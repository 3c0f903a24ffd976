using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Arriving;

/// <summary>What became of values that move over time, wherever their points lie there: they are held to each other at the points of both.</summary>
/// <param name="sent">Samples a second of what was sent.</param>
/// <param name="found">Samples a second of the other side.</param>
/// <param name="findings">Gets what differs.</param>
internal sealed class ArrivalRides(SampleRate sent, SampleRate found, ArrivalFindings findings)
{
    // What is quieter is silence.
    private const double Silence = -60;
    private const double DbBound = 0.1;
    private const double PanBound = 0.01;

    /// <summary>Compares what moves on clips and tracks.</summary>
    /// <param name="pairs">Clips of both sides.</param>
    /// <param name="tracks">Tracks of both sides.</param>
    /// <param name="shift">By how many samples everything lies later there.</param>
    public void Compare(IReadOnlyList<ArrivalPair> pairs, IReadOnlyList<(Track Sent, Track Found)> tracks, long shift)
    {
        Kind("volume ride", "track", [.. tracks.Select(t => (t.Sent.Name, t.Sent.FaderAutomation, t.Found.FaderAutomation))], DbBound, shift, v => $"{Decibels.Words(v, 2)} dB");
        Kind("pan ride", "track", [.. tracks.Select(t => (t.Sent.Name, t.Sent.PanAutomation, t.Found.PanAutomation))], PanBound, shift, v => Routing.TrackSettings.Pan(v));
        Kind("gain curve", "clip", [.. pairs.Select(p => (p.Sent.Name, p.Sent.Clip.GainCurve, p.Found.Clip.GainCurve))], DbBound, 0, v => $"{Decibels.Words(v, 2)} dB");
    }

    private void Kind(string what, string of, IReadOnlyList<(string Name, Automation? Sent, Automation? Found)> all, double bound, long shift, Func<double, string> words)
    {
        var moving = all.Where(a => a.Sent is { Points.Count: > 0 }).ToList();
        if (moving.Count > 0 && moving.TrueForAll(a => a.Found is null or { Points.Count: 0 }))
        {
            findings.Common($"No {what} came: {Phrases.Count(moving.Count, of)} had one.");
            return;
        }

        foreach (var (name, ours, theirs) in all.Where(a => a.Sent is not null || a.Found is not null))
        {
            if (ours is null or { Points.Count: 0 } || theirs is null or { Points.Count: 0 })
            {
                findings.Row(name, what, ours is null ? "none" : "there", theirs is null ? "none" : "there", ours is null ? "added" : ArrivalComparison.Missing);
            }
            else if (Farthest(ours, theirs, shift) is var (at, a, b) && Math.Abs(a - b) > bound)
            {
                findings.Row(name, what, words(a), words(b), $"at sample {Digits.Grouped(at)}");
            }
        }
    }

    private (long At, double Sent, double Found) Farthest(Automation ours, Automation theirs, long shift) => ours.Points.Select(p => p.Sample)
        .Concat(theirs.Points.Select(p => found.Convert(p.Sample, sent) - shift)).Distinct()
        .Select(at => (at, Math.Max(Silence, ours.ValueAt(at)), Math.Max(Silence, theirs.ValueAt(sent.Convert(at + shift, found))))).MaxBy(v => Math.Abs(v.Item2 - v.Item3));
}
