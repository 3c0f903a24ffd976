using Lyrotrans.Audio.Sources;

namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that is looked for in others: what of it is looked for is taken from it once.</summary>
public sealed class SoughtSound
{
    private SoughtSound(Func<ISampleSource> open, SoundProbe probe) => (Open, Probe) = (open, probe);

    /// <summary>Opens the sound.</summary>
    public Func<ISampleSource> Open { get; }

    /// <summary>Whether it is so steady that it is nearly as much like itself a period later.</summary>
    public bool IsSteady => Probe.Period is not null;

    /// <summary>Whether it is as much like itself a period later as this, 0 to 1.</summary>
    public bool IsSteadyTo(double alike) => Probe.PeriodOf(alike) is not null;

    internal SoundProbe Probe { get; }

    /// <summary>Null where it is silent, or shorter than a tenth of a second.</summary>
    public static SoughtSound? Of(Func<ISampleSource> open, CancellationToken stop)
    {
        using var mono = new MonoSound(open());
        return SoundProbe.Of(mono, stop) is { } probe ? new SoughtSound(open, probe) : null;
    }
}
