using Lyrotrans.Core.Clicking;

namespace Lyrotrans.Audio.Click;

/// <summary>What one of a click's two sounds is made of: falling partials that begin together, at a full level of 1.</summary>
/// <param name="Partials">Each with its frequency in hertz, its share of the level, and the seconds in which it falls by 8.7 dB.</param>
/// <param name="Seconds">Its length.</param>
internal sealed record ClickTimbre(IReadOnlyList<(double Hz, double Share, double FallSeconds)> Partials, double Seconds)
{
    // Nearer to half the rate a partial would beat with it.
    private const double Highest = 0.45;

    /// <summary>The sound of accents, or that of plain beats.</summary>
    public static ClickTimbre Of(ClickVoice voice, bool accent) => voice switch
    {
        ClickVoice.Wood => new([(accent ? 1130 : 840, 0.55, 0.009), (accent ? 2710 : 2015, 0.3, 0.004), (accent ? 4900 : 3650, 0.15, 0.0012)], 0.06),
        ClickVoice.Bell => new([(accent ? 2093 : 1568, 0.5, 0.05), (accent ? 4199 : 3146, 0.3, 0.025), (accent ? 6300 : 4720, 0.2, 0.012)], 0.18),
        ClickVoice.Tick => new([(accent ? 4200 : 3150, 0.6, 0.0012), (accent ? 6900 : 5175, 0.4, 0.0006)], 0.008),
        _ => new([(accent ? 1760 : 1173.3, 1, 0.004)], 0.03),
    };

    /// <summary>The same without what a rate cannot hold; the lowest partial stays.</summary>
    /// <param name="rate">In samples a second.</param>
    public ClickTimbre At(double rate)
    {
        var held = Partials.Where((p, i) => i == 0 || p.Hz < Highest * rate).ToList();
        var all = held.Sum(p => p.Share);
        return this with { Partials = [.. held.Select(p => p with { Share = p.Share / all })] };
    }

    /// <summary>Its sample.</summary>
    /// <param name="level">At which it begins, as a ratio.</param>
    /// <param name="seconds">Since it began.</param>
    /// <param name="tail">From 1 to 0 at its end.</param>
    public double Sample(double level, double seconds, double tail)
    {
        var sum = 0.0;
        foreach (var (hz, share, fall) in Partials)
        {
            sum += level * share * Math.Cos(2 * Math.PI * hz * seconds) * Math.Exp(-seconds / fall);
        }

        return sum * tail;
    }
}
