using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Effects;

/// <summary>The effects that can be rendered here, with their settings, latency and tail. Names of other effects mean nothing here.</summary>
public static class EffectCatalogue
{
    /// <summary>How far a tail has fallen at its end, as an amplitude ratio: −120 dB.</summary>
    public const double TailEnd = 1e-6;

    private static readonly EffectParameter s_oversampling = new(EffectKind.Oversampling, 1, 1, 4);

    /// <summary>Every effect that can be rendered here.</summary>
    public static IReadOnlyList<EffectKind> All { get; } =
    [
        new("gain", true, [new("gain dB", 0, -120, 48)]),
        new("equaliser", true,
        [
            new("low cut Hz", 0, 0, 2000), new("low shelf Hz", 120, 20, 2000), new("low shelf dB", 0, -24, 24), new("bell Hz", 1000, 20, 20_000),
            new("bell dB", 0, -24, 24), new("bell Q", 0.7, 0.1, 20), new("high shelf Hz", 8000, 500, 20_000), new("high shelf dB", 0, -24, 24), new("high cut Hz", 0, 0, 22_000),
        ]),
        new("compressor", false,
        [
            new("threshold dB", -18, -80, 0), new("ratio", 3, 1, 50), new("attack ms", 10, 0.05, 500), new("release ms", 120, 1, 5000), new("knee dB", 6, 0, 24),
            new("make-up dB", 0, -24, 24), s_oversampling,
        ]),
        new("limiter", false, [new("ceiling dB", -1, -30, 0), new("look-ahead ms", 1.5, 0, 20), new("release ms", 80, 1, 2000), s_oversampling]),
        new("delay", true, [new("time ms", 400, 1, 10_000), new("feedback", 0, 0, 0.95), new("mix %", 100, 0, 100)]),
        new("reverb", true, [new("time s", 2, 0.1, 20), new("pre-delay ms", 0, 0, 500), new("damping Hz", 6000, 500, 20_000), new("mix %", 100, 0, 100)]),
        new("drive and cabinet", false, [new("drive dB", 12, 0, 48), new("cabinet Hz", 4000, 500, 16_000), new("level dB", 0, -48, 24), s_oversampling with { Usual = 2 }]),
    ];

    /// <summary>The effect of a name; null where it cannot be rendered here.</summary>
    public static EffectKind? Find(string name) => All.FirstOrDefault(e => e.Name == name);

    /// <summary>An insert's settings; null where it does nothing here: bypassed, or of a name that is not known.</summary>
    public static EffectSettings? Settings(Insert insert) => !insert.Bypassed && Find(insert.Effect) is { } kind ? new EffectSettings(kind, insert) : null;

    /// <summary>Whether an insert leaves sums as they are; one that does nothing does.</summary>
    public static bool IsLinear(Insert insert) => Settings(insert)?.Kind.IsLinear ?? true;

    /// <summary>Samples that an insert's sound comes out late, at a rate; exact.</summary>
    public static long Latency(Insert insert, SampleRate rate) => Settings(insert) is { } settings
        ? OversamplingLatency(settings.Oversampling) + (settings.Kind.Name == "limiter" ? settings.Milliseconds("look-ahead ms", rate) : 0)
        : 0;

    /// <summary>Samples at the base rate that the filters of oversampling by 1, 2 or 4 take.</summary>
    public static int OversamplingLatency(int factor) => factor switch { 4 => 72, 2 => 64, _ => 0 };

    /// <summary>Samples after the end of the sound going in until what comes out is 120 dB below what went in.</summary>
    public static long Tail(Insert insert, SampleRate rate)
    {
        if (Settings(insert) is not { } settings)
        {
            return 0;
        }

        var hz = rate.PerSecond.ToDouble();
        return OversamplingLatency(settings.Oversampling) + settings.Kind.Name switch
        {
            "equaliser" => Ring(EffectFilters.Equaliser(settings, hz)),
            "drive and cabinet" => Ring(EffectFilters.Cabinet(settings["cabinet Hz"], hz)),
            "delay" => Echoes(settings.Milliseconds("time ms", rate), settings["feedback"]),
            "reverb" => settings.Milliseconds("pre-delay ms", rate) + (long)Math.Ceiling(((2 * settings["time s"]) + 0.1) * hz),
            _ => 0,
        };
    }

    private static long Ring(IEnumerable<Biquad> filters) =>
        filters.Sum(f => f.PoleRadius is > 0 and < 1 and var radius ? (long)Math.Ceiling(Math.Log(TailEnd) / Math.Log(radius)) : 0);

    private static long Echoes(long time, double feedback) =>
        time * (feedback <= TailEnd ? 1 : 1 + (long)Math.Ceiling(Math.Log(TailEnd) / Math.Log(feedback)));
}
