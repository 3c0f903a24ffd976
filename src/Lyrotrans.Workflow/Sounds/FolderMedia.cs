using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media that lie beside a document: by their file name under its folder, never outside it.</summary>
/// <param name="folder">The document's.</param>
/// <param name="scratch">For files that live as long as the work.</param>
/// <param name="takenOut">By file name, media that were taken out of files of clips in it.</param>
public sealed class FolderMedia(string folder, string scratch, IReadOnlyDictionary<string, string>? takenOut = null) : IMediaFiles
{
    public string Scratch { get; } = scratch;

    public IStoredFile? FileOf(Media media)
    {
        if (takenOut?.GetValueOrDefault(media.FileName) is { } taken)
        {
            return new DiskFile(taken);
        }

        if (!SafePath.IsSafe(media.FileName))
        {
            return null;
        }

        var direct = Path.Combine(folder, media.FileName.Replace('\\', '/'));
        return File.Exists(direct) ? new DiskFile(direct) : null;
    }
}
