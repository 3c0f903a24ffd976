using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media whose files are known one by one, by media id.</summary>
public sealed class MappedMedia(IReadOnlyDictionary<string, string> paths, string scratch) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public IStoredFile? FileOf(Media media) => paths.TryGetValue(media.Id, out var path) && File.Exists(path) ? new DiskFile(path) : null;
}
