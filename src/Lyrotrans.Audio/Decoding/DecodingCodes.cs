using Lyrotrans.Core.Findings;

namespace Lyrotrans.Audio.Decoding;

/// <summary>Codes of compressed sound.</summary>
public static class DecodingCodes
{
    /// <summary>The sound cannot be decoded.</summary>
    public static readonly FindingCode NotDecoded = new("sound.not-decoded");
}
