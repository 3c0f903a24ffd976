using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media that lie beside a document: by their file name under its folder, never outside it.</summary>
public sealed class FolderMedia(string folder, string scratch) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public IStoredFile? FileOf(Media media)
    {
        if (!SafePath.IsSafe(media.FileName))
        {
            return null;
        }

        var direct = Path.Combine(folder, media.FileName.Replace('\\', '/'));
        return File.Exists(direct) ? new DiskFile(direct) : null;
    }
}
