using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media whose files are known by the SHA-256 of their bytes.</summary>
public sealed class HashedMedia(IReadOnlyDictionary<string, string> paths, string scratch) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public IStoredFile? FileOf(Media media) => media.Sha256 is { } sha256 && paths.TryGetValue(sha256, out var path) && File.Exists(path) ? new DiskFile(path) : null;
}
