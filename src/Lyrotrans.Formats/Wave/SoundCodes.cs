using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Wave;

/// <summary>Codes of WAVE and AIFF files.</summary>
public static class SoundCodes
{
    /// <summary>The file does not begin as WAVE or AIFF does.</summary>
    public static readonly FindingCode WrongForm = new("sound.wrong-form");

    /// <summary>A chunk says more bytes than follow, and cannot be read without them.</summary>
    public static readonly FindingCode ChunkCut = new("sound.chunk-cut");

    /// <summary>There is no chunk that says rate, channels and sample format.</summary>
    public static readonly FindingCode NoFormat = new("sound.no-format");

    /// <summary>The header says a rate, channels or sample format that is not possible.</summary>
    public static readonly FindingCode BadFormat = new("sound.bad-format");

    /// <summary>The sound is coded in another way than linear PCM.</summary>
    public static readonly FindingCode NotPcm = new("sound.not-pcm");

    /// <summary>There is no chunk with sound.</summary>
    public static readonly FindingCode NoData = new("sound.no-data");

    /// <summary>A chunk beside the sound ends beyond the file; it was left out.</summary>
    public static readonly FindingCode ChunkLeftOut = new("sound.chunk-left-out");

    /// <summary>The header says another amount of sound than the file holds; what is there was taken.</summary>
    public static readonly FindingCode SizeDiffers = new("sound.size-differs");

    /// <summary>The sound ends inside a sample; the rest of it was left out.</summary>
    public static readonly FindingCode PartSample = new("sound.part-sample");

    /// <summary>A list of names or markers ends inside an entry.</summary>
    public static readonly FindingCode ListCut = new("sound.list-cut");
}
