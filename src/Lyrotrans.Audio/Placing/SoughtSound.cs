namespace Lyrotrans.Audio.Placing;

/// <summary>A sound that is looked for in others: what of it is looked for is taken from it once.</summary>
public sealed class SoughtSound
{
    // Six seconds, and two.
    private const int Brief = 6 * AnalysisSound.Hz;
    private const int AtSpeeds = 2 * AnalysisSound.Hz;
    private readonly Lazy<LandmarkPeaks> _peaks;

    private SoughtSound(SearchedSound sound, SoundProbe probe, CancellationToken stop) =>
        (Sound, Probe, _peaks) = (sound, probe, new Lazy<LandmarkPeaks>(() => LandmarkPeaks.Of(sound.Analysed(stop).Samples, stop)));

    /// <summary>The sound itself.</summary>
    public SearchedSound Sound { get; }

    /// <summary>Whether it is so steady that it is nearly as much like itself a period later.</summary>
    public bool IsSteady => Probe.Period is not null;

    /// <summary>Whether it is as much like itself a period later as this, 0 to 1.</summary>
    public bool IsSteadyTo(double alike) => Probe.PeriodOf(alike) is not null;

    /// <summary>Whether it is so short that too few stretches of it lie somewhere to say that they do not by chance.</summary>
    public bool IsBrief => Probe.Length < Brief;

    /// <summary>Whether it is long enough to be told at another speed: one note is like another one that runs faster.</summary>
    public bool TellsSpeeds => Probe.Length >= AtSpeeds;

    /// <summary>How many samples long it is, nearly, at so many a second.</summary>
    public double Length(double perSecond) => Probe.Length * perSecond / AnalysisSound.Hz;

    internal SoundProbe Probe { get; }

    /// <summary>Its landmarks when it runs so many times as fast as it does; 1 as it is.</summary>
    public Landmarks Marks(double speed) => _peaks.Value.Marks(speed);

    /// <summary>Null where it is silent, or shorter than a tenth of a second.</summary>
    public static SoughtSound? Of(SearchedSound sound, CancellationToken stop) =>
        SoundProbe.Of(sound.Analysed(stop)) is { } probe ? new SoughtSound(sound, probe, stop) : null;
}
