using System.Security.Cryptography;
using System.Text;

namespace Lyrotrans.Core.Flags;

/// <summary>Something that would go wrong, and where.</summary>
/// <param name="Kind">What kind of trouble it is.</param>
/// <param name="Title">What it is, in words.</param>
/// <param name="Detail">What follows, or how much it is.</param>
/// <param name="TrackId">Of the track, where it is on one.</param>
/// <param name="ClipId">Of the clip or part, where it is one.</param>
/// <param name="Sample">Where to look, in session samples.</param>
public sealed record Flag(FlagKind Kind, string Title, string Detail, string? TrackId = null, string? ClipId = null, long? Sample = null)
{
    private const int SumDigits = 16;

    /// <summary>Of its kind.</summary>
    public string Code => Kind.Code;

    /// <summary>The same as long as the flag is about the same thing and says the same of it; what was answered to it holds so long.</summary>
    public string Sum => Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes(string.Join('\n', Code, TrackId, ClipId, Title, Detail))))[..SumDigits];
}
