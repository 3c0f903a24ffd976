using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media that lie in a store by their SHA-256.</summary>
public sealed class StoredMedia(IMediaStore store, string scratch) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public string? PathOf(Media media) => media.Sha256 is { } sha && store.Has(sha) ? store.PathOf(sha) : null;
}
