using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Effects;

/// <summary>Makes effects that run.</summary>
public static class EffectRack
{
    /// <summary>The effects of a track's inserts, in order; those that do nothing here are left out.</summary>
    public static IReadOnlyList<IEffect> Of(IEnumerable<Insert> inserts, SampleRate rate, int channels) =>
        inserts.Select(i => EffectCatalogue.Settings(i)).OfType<EffectSettings>().Select(s => Make(s, rate, channels)).ToList();

    private static IEffect Make(EffectSettings settings, SampleRate rate, int channels)
    {
        var factor = settings.Oversampling;
        var hz = rate.PerSecond.ToDouble();
        return settings.Kind.Name switch
        {
            "gain" => new GainEffect(settings["gain dB"]),
            "equaliser" => new FilterEffect(EffectFilters.Equaliser(settings, hz), channels),
            "compressor" => Oversampled(new Compressor(settings, hz * factor), factor, channels),
            "limiter" => Oversampled(new Limiter(settings, (int)settings.Milliseconds("look-ahead ms", rate) * factor, hz * factor, channels), factor, channels),
            "delay" => new DelayEffect((int)settings.Milliseconds("time ms", rate), settings["feedback"], settings["mix %"] / 100, channels),
            "reverb" => new Reverb(settings, rate, channels),
            _ => new EffectChain(
                Oversampled(new Drive(settings["drive dB"], settings["level dB"]), factor, channels), new FilterEffect(EffectFilters.Cabinet(settings["cabinet Hz"], hz), channels)),
        };
    }

    private static IEffect Oversampled(IEffect inner, int factor, int channels) => factor == 1 ? inner : new OversampledEffect(inner, factor, channels);
}
