using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Codes of sound files of any kind.</summary>
public static class SoundFileCodes
{
    /// <summary>The sound is lossy; it is fit for listening, not for going on.</summary>
    public static readonly FindingCode Lossy = new("sound.lossy");

    /// <summary>The rate cannot be converted to that of the session.</summary>
    public static readonly FindingCode RateTooFar = new("sound.rate-too-far");
}
