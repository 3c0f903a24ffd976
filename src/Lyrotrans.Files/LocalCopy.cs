using Lyrotrans.Core.Storing;

namespace Lyrotrans.Files;

/// <summary>Copies of files that lie elsewhere, for libraries that open files by path.</summary>
public static class LocalCopy
{
    /// <param name="source">What to copy, from where it stands.</param>
    /// <param name="scratch">A folder for files that live only as long as some work.</param>
    /// <exception cref="IOException">There is no room for it, or the source cannot be read; nothing is left.</exception>
    public static LocalFile Of(Stream source, string scratch)
    {
        Directory.CreateDirectory(scratch);
        var path = Path.Combine(scratch, $"{Guid.NewGuid():N}.copy");
        try
        {
            using var output = File.Create(path);
            source.CopyTo(output, 1 << 17);
            return new LocalFile(path, () => File.Delete(path));
        }
        catch
        {
            File.Delete(path);
            throw;
        }
    }
}
