using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Edits;

/// <summary>Codes of compositions of clips in any format.</summary>
public static class EditCodes
{
    /// <summary>Nothing in the file says how its sound lies over time.</summary>
    public static readonly FindingCode NoComposition = new("clips.no-composition");

    /// <summary>A place lies years away.</summary>
    public static readonly FindingCode PlaceTooFar = new("clips.place-too-far");

    /// <summary>A medium is said to have more channels than any has; one was taken.</summary>
    public static readonly FindingCode ChannelCount = new("clips.channel-count");

    /// <summary>Places lie between two samples; each went to the nearest.</summary>
    public static readonly FindingCode BetweenSamples = new("clips.between-samples");

    /// <summary>Places are whole units of many samples; what was finer was lost when the file was written.</summary>
    public static readonly FindingCode CoarsePlaces = new("clips.coarse-places");

    /// <summary>Volume runs straight in amplitude there and straight in dB here; the points agree.</summary>
    public static readonly FindingCode VolumeBent = new("clips.volume-bent");

    /// <summary>There are other compositions in the file, which were not taken.</summary>
    public static readonly FindingCode OtherCompositions = new("clips.other-compositions");

    /// <summary>The frame rate is not one that timecode has; the nearest was taken.</summary>
    public static readonly FindingCode FrameRate = new("clips.frame-rate");

    /// <summary>Clips overlap without a crossfade; the earlier ends where the later begins.</summary>
    public static readonly FindingCode Overlap = new("clips.overlap");

    /// <summary>The timeline was changed since; the metadata with gain, fades and the rest no longer go with it and were left out.</summary>
    public static readonly FindingCode OwnLeftOut = new("clips.own-left-out");

    /// <summary>Segments are nested too deep, come back to themselves, or are far more than the file has; what lies below was left out.</summary>
    public static readonly FindingCode TooDeep = new("clips.too-deep");

    /// <summary>A transition does not say its curve; it was taken as linear.</summary>
    public static readonly FindingCode FadeCurve = new("clips.fade-curve");

    /// <summary>A fade is said to be shorter than nothing; it was left out.</summary>
    public static readonly FindingCode FadeLength = new("clips.fade-length");

    /// <summary>Points of a fade go back in time; they were left out.</summary>
    public static readonly FindingCode FadePoints = new("clips.fade-points");

    /// <summary>An effect or another operation cannot be carried; its sound goes without it.</summary>
    public static readonly FindingCode Operation = new("clips.operation");

    /// <summary>The header copied into a descriptor cannot be read; the numbers of the descriptor were taken.</summary>
    public static readonly FindingCode HeaderCopy = new("clips.header-copy");

    /// <summary>Sound inside the file cannot be read as it is said to be.</summary>
    public static readonly FindingCode EmbeddedSound = new("clips.embedded-sound");
}
