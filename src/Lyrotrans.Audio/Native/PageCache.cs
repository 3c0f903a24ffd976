using System.Runtime.InteropServices;
using Microsoft.Win32.SafeHandles;

namespace Lyrotrans.Audio.Native;

/// <summary>What the system keeps of files in memory.</summary>
public static partial class PageCache
{
    private const int DontNeed = 4;

    /// <summary>Asks the system to forget what it keeps of a file, so that what is read next comes from where the file lies. Only what is on its disk already is forgotten.</summary>
    public static void Forget(SafeFileHandle file)
    {
        if (OperatingSystem.IsLinux())
        {
            // It is advice; where it is not taken the file is read all the same.
            _ = Advise(file, 0, 0, DontNeed);
        }
    }

    // posix_fadvise(3), POSIX.1-2001.
    [LibraryImport("libc", EntryPoint = "posix_fadvise")]
    private static partial int Advise(SafeFileHandle file, long offset, long length, int advice);
}
