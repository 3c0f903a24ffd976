using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Preparing;

/// <summary>How tracks that are kept as clips go into a file of clips.</summary>
/// <param name="Format">The file's format.</param>
public sealed record ClipChoices(ClipFormat Format)
{
    /// <summary>In whichever unit.</summary>
    public const long LongestHandle = 10_000_000;

    /// <summary>As it was chosen; <see cref="MediaForm"/> is what the format makes of it.</summary>
    public ClipMediaForm Media { get; init; }

    /// <summary>How samples are stored.</summary>
    public ClipDepth Depth { get; init; }

    /// <summary>Only what the clips use and their handles, not whole media.</summary>
    public bool Trimmed { get; init; }

    /// <summary>Sound before and after each clip that goes along, in <see cref="HandleUnit"/>; only for trimmed media.</summary>
    public long Handle { get; init; } = 1000;

    /// <summary>What <see cref="Handle"/> counts.</summary>
    public HandleUnit HandleUnit { get; init; }

    /// <summary>A track of several channels goes as so many mono tracks.</summary>
    public bool MonoOnly { get; init; } = true;

    /// <summary>Clip gain becomes part of the media.</summary>
    public bool RenderGain { get; init; }

    /// <summary>As it was chosen; <see cref="FadesAs"/> is what the format makes of it.</summary>
    public FadeForm Fades { get; init; }

    /// <summary>The fader and its automation.</summary>
    public VolumeForm Volume { get; init; }

    /// <summary>How pan goes.</summary>
    public PanForm Pan { get; init; }

    /// <summary>Places are whole frames, for receivers that take no finer ones.</summary>
    public bool FrameUnits { get; init; }

    /// <summary>A file for the tracks of each stem or bus.</summary>
    public bool PerGroup { get; init; }

    /// <summary>Media, and clips with them, are called after the first track that uses them, with a number, and not as they are here.</summary>
    public bool NamedAfterTracks { get; init; }

    /// <summary>What only single formats let choose.</summary>
    public FormatChoices Options { get; init; }

    /// <summary>Where the sound lies, as the format has it.</summary>
    public ClipMediaForm MediaForm => Format.MediaFor(Media);

    /// <summary>Fades as the format has them.</summary>
    public FadeForm FadesAs => Format.FadesFor(Fades);

    /// <summary>These choices with what the format makes of them, as they are shown.</summary>
    public ClipChoices AsFormatHas => this with { Media = MediaForm, Fades = FadesAs };

    /// <summary>The largest file, in bytes; null where there is no limit.</summary>
    public long? MostBytes => Format.MostBytes(Options);

    /// <summary>Whether what is too large for one file goes as several.</summary>
    public bool Splits => Format.Splits(Options);

    /// <summary>The handle in session samples, to the nearest.</summary>
    public long HandleSamples(SampleRate rate, FrameRate frames) => Trimmed ? WantedHandle(rate, frames) : 0;

    /// <summary>The handle that the receiver wants, whether media are trimmed to it or not; in session samples, to the nearest.</summary>
    public long WantedHandle(SampleRate rate, FrameRate frames) => HandleUnit switch
    {
        HandleUnit.Samples => Handle,
        HandleUnit.Frames => (Handle * rate.PerSecond / frames.PerSecond).RoundToEven(),
        _ => rate.SamplesIn(new Rational(Handle, 1000)).RoundToEven(),
    };
}
