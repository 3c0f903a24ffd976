using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media whose files are known one by one, by media id.</summary>
public sealed class MappedMedia(IReadOnlyDictionary<string, string> paths, string scratch) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public string? PathOf(Media media) => paths.TryGetValue(media.Id, out var path) && File.Exists(path) ? path : null;
}
