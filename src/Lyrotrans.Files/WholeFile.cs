namespace Lyrotrans.Files;

/// <summary>Writes a file that is whole or not there: to a temporary name beside it, synced, then renamed.</summary>
public static class WholeFile
{
    /// <exception cref="IOException">The disk is full, or it cannot be written.</exception>
    public static void Write(string path, Action<Stream> write)
    {
        Directory.CreateDirectory(Path.GetDirectoryName(Path.GetFullPath(path))!);
        var temporary = $"{path}.{Guid.NewGuid():N}.part";
        try
        {
            using (var output = new FileStream(temporary, FileMode.CreateNew, FileAccess.ReadWrite, FileShare.None, 1 << 20))
            {
                write(output);
                output.Flush(flushToDisk: true);
            }

            File.Move(temporary, path, overwrite: true);
        }
        finally
        {
            File.Delete(temporary);
        }
    }
}
