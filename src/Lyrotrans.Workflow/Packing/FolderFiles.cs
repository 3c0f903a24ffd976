using Lyrotrans.Audio.Native;

namespace Lyrotrans.Workflow.Packing;

/// <summary>What lies in a folder that somebody named, and below it. Links are not followed: one may lead out of it, or back into it without end. Pipes and the like are no files.</summary>
public static class FolderFiles
{
    private const int Deepest = 64;

    /// <summary>Its files by their paths, in order, and its links.</summary>
    /// <param name="folder">Where to look.</param>
    public static (IReadOnlyList<string> Files, IReadOnlyList<string> Links) Of(string folder)
    {
        var (files, links) = (new List<string>(), new List<string>());
        Look(new DirectoryInfo(folder), 0, files, links);
        files.Sort(StringComparer.Ordinal);
        links.Sort(StringComparer.Ordinal);
        return (files, links);
    }

    private static void Look(DirectoryInfo folder, int depth, List<string> files, List<string> links)
    {
        foreach (var entry in folder.EnumerateFileSystemInfos())
        {
            if (entry.LinkTarget is not null)
            {
                links.Add(entry.FullName);
            }
            else if (entry is not DirectoryInfo inner)
            {
                if (PlainFiles.Is(entry.FullName))
                {
                    files.Add(entry.FullName);
                }
            }
            else if (depth < Deepest)
            {
                Look(inner, depth + 1, files, links);
            }
        }
    }
}
