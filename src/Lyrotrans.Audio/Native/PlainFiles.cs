using System.Runtime.InteropServices;

namespace Lyrotrans.Audio.Native;

/// <summary>Tells files from what only has a name among files: a pipe that is opened waits for somebody at its other end, for ever.</summary>
public static partial class PlainFiles
{
    // Read only, without waiting, and closed where another program is started.
    private const int Flags = 0x80800;
    private const int End = 2;

    /// <summary>Whether something that was found in a folder is a file that can be read from any place on.</summary>
    public static bool Is(string path)
    {
        if (!OperatingSystem.IsLinux() || new FileInfo(path) is { Exists: true, Length: > 0 })
        {
            return true;
        }

        var file = Open(path, Flags);
        if (file < 0)
        {
            return false;
        }

        var isPlain = Seek(file, 0, End) >= 0;
        _ = Close(file);
        return isPlain;
    }

    // open(2), lseek(2) and close(2), POSIX.1-2001; a pipe has no places (ESPIPE), a socket cannot be opened (ENXIO).
    [LibraryImport("libc", EntryPoint = "open", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int Open(string path, int flags);

    [LibraryImport("libc", EntryPoint = "lseek")]
    private static partial long Seek(int file, long offset, int whence);

    [LibraryImport("libc", EntryPoint = "close")]
    private static partial int Close(int file);
}
