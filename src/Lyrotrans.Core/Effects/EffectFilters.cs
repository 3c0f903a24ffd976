namespace Lyrotrans.Core.Effects;

/// <summary>The filters that effects are made of, in their order.</summary>
public static class EffectFilters
{
    /// <summary>Of an equaliser; what is set to do nothing is not in it.</summary>
    public static IEnumerable<Biquad> Equaliser(EffectSettings settings, double rate)
    {
        if (settings["low cut Hz"] > 0)
        {
            yield return Biquad.HighPass(settings["low cut Hz"], Biquad.Flat, rate);
        }

        if (settings["low shelf dB"] != 0)
        {
            yield return Biquad.LowShelf(settings["low shelf Hz"], settings["low shelf dB"], rate);
        }

        if (settings["bell dB"] != 0)
        {
            yield return Biquad.Bell(settings["bell Hz"], settings["bell Q"], settings["bell dB"], rate);
        }

        if (settings["high shelf dB"] != 0)
        {
            yield return Biquad.HighShelf(settings["high shelf Hz"], settings["high shelf dB"], rate);
        }

        if (settings["high cut Hz"] > 0)
        {
            yield return Biquad.LowPass(settings["high cut Hz"], Biquad.Flat, rate);
        }
    }

    /// <summary>What a loudspeaker in a box does to the sound: no lows, a presence, and a steep end of the highs.</summary>
    public static IEnumerable<Biquad> Cabinet(double cutHz, double rate) =>
    [
        Biquad.HighPass(80, Biquad.Flat, rate),
        Biquad.Bell(cutHz * 0.7, 1.2, 4, rate),
        Biquad.LowPass(cutHz, 0.5412, rate),
        Biquad.LowPass(cutHz, 1.3066, rate),
    ];
}
