using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>What edit rates say of sampling rates.</summary>
internal static class ChainRates
{
    private const int LowestSampling = 8_000;

    /// <summary>Whether an edit rate is a sampling rate, so that its units are samples.</summary>
    public static bool IsSampling(Rational editRate) => editRate >= LowestSampling && SampleRate.IsPossible(editRate);

    /// <summary>The sampling rate that most media have.</summary>
    public static SampleRate Commonest(IEnumerable<Rational?> rates) =>
        new(rates.OfType<Rational>().Where(IsSampling).GroupBy(r => r).OrderByDescending(g => g.Count()).Select(g => g.Key).FirstOrDefault(48_000));

    /// <summary>Says what was lost where places are coarser than samples.</summary>
    public static IEnumerable<Finding> Coarse(Rational editRate, SampleRate rate)
    {
        if (editRate < LowestSampling)
        {
            var unit = rate.PerSecond / editRate;
            yield return new Finding(EditCodes.CoarsePlaces, string.Empty, FormattableString.Invariant($"Places are whole units of {unit.ToDouble():0.###} samples ({editRate.ToDouble():0.###} a second); what was finer was lost when it was written, up to {unit.ToDouble() / 2:0.#} samples."));
        }
    }
}
