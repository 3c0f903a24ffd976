using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Delivering;

/// <summary>What the files that are printed dry add up to at most when all of them play at unity: the sum of their peaks, as if all came at once.</summary>
/// <param name="Files">How many tracks are in it: those printed dry whose media were all measured.</param>
/// <param name="Db">In dBFS; −∞ for silence.</param>
public sealed record PeakSum(int Files, double Db)
{
    /// <summary>By how many dB each must be pulled down so that nothing can clip, in whole tenths; 0 where nothing can.</summary>
    public double PullDownDb => Db <= 0 ? 0 : Math.Ceiling(Db * 10) / 10;

    /// <param name="plan">What is built.</param>
    /// <param name="sounds">What was measured of media, by their identifiers.</param>
    /// <returns>Null where no track is in it.</returns>
    public static PeakSum? Of(DeliveryPlan plan, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var dry = plan.Preparation.Tracks.Where(c => c.Treatment == Treatment.PrintDry).Select(c => c.TrackId).ToHashSet();
        var peaks = plan.Session.Tracks.Where(t => dry.Contains(t.Id)).Select(t => PeakOf(t, sounds)).OfType<double>().ToList();
        return peaks.Count == 0 ? null : new PeakSum(peaks.Count, Decibels.FromRatio(peaks.Sum()));
    }

    // Neighbours that fade into each other may be as loud as both.
    private static double? PeakOf(Track track, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var clips = (track.Sounding?.Clips ?? []).Where(c => !c.Muted).ToList();
        if (clips.Count == 0 || clips.Exists(c => !sounds.ContainsKey(c.Media)))
        {
            return null;
        }

        var peaks = clips.Select(c => sounds[c.Media].Peak * Decibels.ToRatio(c.GainDb + (c.GainCurve?.Points.Select(p => p.Value).DefaultIfEmpty(0).Max() ?? 0))).ToList();
        return Enumerable.Range(0, clips.Count).Max(i => peaks[i] + (i > 0 && clips[i - 1].End > clips[i].Start ? peaks[i - 1] : 0));
    }
}
