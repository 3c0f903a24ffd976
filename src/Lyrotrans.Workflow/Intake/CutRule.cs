using Lyrotrans.Audio.Silences;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Intake;

/// <summary>How a file from zero is cut back at its silences, as it is typed.</summary>
/// <param name="ThresholdDb">The level up to which it is silent, in dBFS; none is digital silence.</param>
/// <param name="ShortestMs">A shorter silence parts nothing; in milliseconds, like the others.</param>
/// <param name="BeforeMs">What stays before sound.</param>
/// <param name="AfterMs">What stays after sound.</param>
/// <param name="FadeMs">The length of the fades where it was cut; 0 is none.</param>
public sealed record CutRule(double? ThresholdDb, double ShortestMs, double BeforeMs, double AfterMs, double FadeMs)
{
    private const double Lowest = -200;
    private const double LongestMs = 3_600_000;

    /// <summary>What fits most files from zero: nothing that is heard goes.</summary>
    public static CutRule Usual { get; } = new(-72, 500, 20, 200, 5);

    /// <summary>Whether its numbers can be.</summary>
    public bool IsPossible => ThresholdDb is null or (>= Lowest and < 0) && ShortestMs is >= 1 and <= LongestMs
        && new[] { BeforeMs, AfterMs, FadeMs }.All(ms => ms is >= 0 and <= LongestMs);

    /// <summary>In frames of a file.</summary>
    public SilenceRule For(SampleRate rate) =>
        new(ThresholdDb is { } db ? Decibels.ToRatio(db) : 0, Math.Max(1, Samples(ShortestMs, rate)), Samples(BeforeMs, rate), Samples(AfterMs, rate));

    /// <summary>The length of its fades, in samples of a rate.</summary>
    public long Fade(SampleRate rate) => Samples(FadeMs, rate);

    private static long Samples(double ms, SampleRate rate) => (long)Math.Round(ms * rate.PerSecond.ToDouble() / 1000);
}
