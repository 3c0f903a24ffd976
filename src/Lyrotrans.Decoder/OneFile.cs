using System.Runtime.InteropServices;

namespace Lyrotrans.Decoder;

/// <summary>Landlock of Linux: a process gives up writing, making, removing and renaming files, all but one.</summary>
internal static unsafe partial class OneFile
{
    private const nint CreateRuleset = 444;
    private const nint AddRule = 445;
    private const nint RestrictSelf = 446;
    private const nint PathBeneath = 1;
    private const int PathOnly = 0x200000; // O_PATH
    private const ulong WriteFile = 1UL << 1;
    private const ulong Truncate = 1UL << 14;
    private const ulong RemoveAndMake = 0x1FF0; // folders and files removed; every kind of them made
    private const ulong Refer = 1UL << 13;

    /// <summary>Holds this thread, and the program that it becomes, to one file. Needs that no rights are gained by starting programs.</summary>
    /// <param name="path">A file that is there.</param>
    /// <returns>Whether the kernel does that.</returns>
    public static bool HoldTo(string path)
    {
        var known = SystemCall(CreateRuleset, 0, 0, 1, 0);
        if (known < 1)
        {
            return false;
        }

        var all = WriteFile | RemoveAndMake | (known >= 2 ? Refer : 0) | (known >= 3 ? Truncate : 0);
        var set = SystemCall(CreateRuleset, (nint)(&all), sizeof(ulong), 0, 0);
        var file = Open(path, PathOnly);
        var rule = new Beneath { Allowed = all & (WriteFile | Truncate), File = file };
        return set >= 0 && file >= 0 && SystemCall(AddRule, set, PathBeneath, (nint)(&rule), 0) == 0 && SystemCall(RestrictSelf, set, 0, 0, 0) == 0;
    }

    [LibraryImport("libc", EntryPoint = "open", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int Open(string path, int flags);

    [LibraryImport("libc", EntryPoint = "syscall")]
    private static partial nint SystemCall(nint number, nint a, nint b, nint c, nint d);

    [StructLayout(LayoutKind.Sequential, Pack = 1)]
    private struct Beneath
    {
        public ulong Allowed;
        public int File;
    }
}
