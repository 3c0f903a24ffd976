using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Relinking;

/// <summary>A sound file that may be the one that a session's media mean.</summary>
/// <param name="Id">Of the file, for the caller.</param>
/// <param name="Path">With its folders, parted by <c>/</c>.</param>
/// <param name="Sha256">Of the whole file.</param>
/// <param name="Length">In its own samples.</param>
/// <param name="TimeReference">Samples since midnight, where it is stamped.</param>
/// <param name="Umid">The identifier inside it, as lower-case hex; null where it has none.</param>
/// <param name="StartHash">The SHA-256 of so many of its first bytes; null where it cannot be told.</param>
public sealed record SoundCandidate(
    string Id, string Path, string? Sha256, SampleRate Rate, int Channels, long Length, long? TimeReference, string? Umid, Func<int, string?> StartHash)
{
    /// <summary>The file's name without its folder.</summary>
    public string Name => System.IO.Path.GetFileName(Path);
}
