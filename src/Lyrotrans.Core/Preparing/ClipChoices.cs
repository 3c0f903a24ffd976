using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Preparing;

/// <summary>How tracks that are kept as clips go into a file of clips.</summary>
public sealed record ClipChoices
{
    public const long LongestHandle = 10_000_000;

    public ClipFileForm File { get; init; }

    /// <summary>As it was chosen; <see cref="MediaForm"/> is what the format makes of it.</summary>
    public ClipMediaForm Media { get; init; }

    public ClipDepth Depth { get; init; }

    /// <summary>Only what the clips use and their handles, not whole media.</summary>
    public bool Trimmed { get; init; }

    /// <summary>Sound before and after each clip that goes along, in <see cref="HandleUnit"/>; only for trimmed media.</summary>
    public long Handle { get; init; } = 1000;

    public HandleUnit HandleUnit { get; init; }

    /// <summary>A track of several channels goes as so many mono tracks.</summary>
    public bool MonoOnly { get; init; } = true;

    /// <summary>Clip gain becomes part of the media.</summary>
    public bool RenderGain { get; init; }

    public FadeForm Fades { get; init; }

    /// <summary>The fader and its automation.</summary>
    public VolumeForm Volume { get; init; }

    public PanForm Pan { get; init; }

    /// <summary>Sectors of 512 bytes instead of 4096, for readers that take no others.</summary>
    public bool SmallSectors { get; init; }

    /// <summary>Places are whole frames, for receivers that take no finer ones.</summary>
    public bool FrameUnits { get; init; }

    /// <summary>How large an OMF file may become.</summary>
    public OmfLimit Limit { get; init; }

    /// <summary>An OMF file that would be larger goes as several, with some of the tracks each.</summary>
    public bool SplitByTracks { get; init; }

    /// <summary>Where the sound lies, as the format has it.</summary>
    public ClipMediaForm MediaForm => (File, Media) switch
    {
        (ClipFileForm.Omf, ClipMediaForm.InsideSamples) => ClipMediaForm.InsideWave,
        (ClipFileForm.Otio, ClipMediaForm.InsideAiff or ClipMediaForm.BesideAiff) => ClipMediaForm.BesideAiff,
        (ClipFileForm.Otio, _) => ClipMediaForm.BesideWave,
        var (_, form) => form,
    };

    public bool IsBeside => MediaForm is ClipMediaForm.BesideWave or ClipMediaForm.BesideAiff;

    public bool IsAiff => MediaForm is ClipMediaForm.InsideAiff or ClipMediaForm.BesideAiff;

    /// <summary>Whether each medium has a header that can say its time stamp.</summary>
    public bool HoldsTimeStamp => MediaForm is ClipMediaForm.InsideWave or ClipMediaForm.BesideWave;

    /// <summary>Fades as the format has them; in OTIO they are transitions or in the sound.</summary>
    public FadeForm FadesAs => File == ClipFileForm.Otio && Fades == FadeForm.Properties ? FadeForm.Transitions : Fades;

    /// <summary>The largest OMF file, in bytes.</summary>
    public long MostBytes => (Limit == OmfLimit.TwoGiB ? int.MaxValue : (long)uint.MaxValue) - 1;

    /// <summary>The handle in session samples, to the nearest.</summary>
    public long HandleSamples(SampleRate rate, FrameRate frames) => !Trimmed ? 0 : HandleUnit switch
    {
        HandleUnit.Samples => Handle,
        HandleUnit.Frames => (Handle * rate.PerSecond / frames.PerSecond).RoundToEven(),
        _ => rate.SamplesIn(new Rational(Handle, 1000)).RoundToEven(),
    };
}
