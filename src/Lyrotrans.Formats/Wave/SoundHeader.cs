using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.Wave;

/// <summary>What the chunks of a WAVE, RF64, BW64, AIFF or AIFF-C file say.</summary>
public sealed record SoundHeader
{
    /// <summary>As the file names itself: <c>WAVE</c>, <c>RF64</c>, <c>BW64</c>, <c>AIFF</c>, <c>AIFC</c>.</summary>
    public required string Container { get; init; }

    /// <summary>Whether it is AIFF or AIFF-C, and WAVE in one of its forms otherwise.</summary>
    public bool IsAiff => Container is "AIFF" or "AIFC";

    /// <summary>How the samples lie, and where.</summary>
    public required PcmLayout Layout { get; init; }

    /// <summary>The time stamp and what stands with it; null where there is none.</summary>
    public BroadcastExtension? Broadcast { get; init; }

    /// <summary>LIST/INFO entries (or AIFF NAME, AUTH, ANNO) by their four letters; tempo and key of an ID3v2 tag (TBPM, TKEY) too.</summary>
    public ValueArray<KeyValuePair<string, string>> Info { get; init; }

    /// <summary>Named places in the file.</summary>
    public ValueArray<CuePoint> Cues { get; init; }

    /// <summary>The iXML chunk, byte for byte.</summary>
    public ValueArray<byte> Ixml { get; init; }

    /// <summary>What edit files call the sound: the basic UMID (SMPTE ST 330) as lower-case hex of 32 bytes, of the bext chunk or else of iXML; null where neither has one.</summary>
    public string? Umid { get; init; }

    /// <summary>What its channels are called, empty where one has no name; none where no channel has one.</summary>
    public ValueArray<string> ChannelNames { get; init; }

    /// <summary>The fact chunk's count of samples, where there is one.</summary>
    public long? FactSamples { get; init; }

    /// <summary>Rates that other places say than the one that counts.</summary>
    public ValueArray<RateWord> RateWords { get; init; }

    /// <summary>What was wrong and could be read all the same.</summary>
    public ValueArray<Finding> Findings { get; init; }
}
