using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Codes of sound files of any kind.</summary>
public static class SoundFileCodes
{
    /// <summary>The sound is lossy; it is fit for listening, not for going on.</summary>
    public static readonly FindingCode Lossy = new("sound.lossy");

    /// <summary>What was decoded is not what the file's own checksum says: its sound is damaged.</summary>
    public static readonly FindingCode WrongSum = new("sound.wrong-sum");

    /// <summary>Some of the sound could not be decoded; it is silence.</summary>
    public static readonly FindingCode DecodedInPart = new("sound.decoded-in-part");

    /// <summary>The rate cannot be converted to that of the session.</summary>
    public static readonly FindingCode RateTooFar = new("sound.rate-too-far");
}
