using System.Runtime.InteropServices;

namespace Lyrotrans.Decoder;

/// <summary>
/// What a decoder that a hostile file has taken over can still do: read files, and use as much memory as is allowed. No network, no other program, nothing written. Linux on
/// x86-64; there is no core file either, which would hold sound.
/// </summary>
internal static unsafe partial class Confinement
{
    /// <summary>Bytes of memory that the process may have of its own.</summary>
    private const ulong MostBytes = 1UL << 30;

    /// <summary>The same of one that codes pictures, which are large.</summary>
    private const ulong MostBytesToMake = 4UL << 30;

    private const int StandardError = 2;
    private const int DataLimit = 2;
    private const int CoreLimit = 4;
    private const int TimeLimit = 0;

    /// <summary>Seconds of a processor's time that another program may take.</summary>
    private const ulong MostSeconds = 3600;

    /// <summary>The same of one that codes pictures.</summary>
    private const ulong MostSecondsToMake = 24 * 3600;
    private const uint StartProgram = 59;
    private const int NoNewPrivileges = 38;
    private const int SystemCallSeccomp = 317;
    private const uint ArchitectureX64 = 0xC000003E;
    private const uint Allow = 0x7FFF0000;
    private const uint Refuse = 0x00050001; // as EPERM
    private const uint NotThere = 0x00050026; // as ENOSYS
    private const uint ThreadFlag = 0x10000; // CLONE_THREAD
    private const uint Kill = 0x80000000;
    private const uint OpenForWriting = 0x3; // O_WRONLY, O_RDWR
    private const uint MakeOrEmpty = 0x40 | 0x200; // O_CREAT, O_TRUNC

    // Sockets; other programs and processes; names and lengths of files; rings, through which all of these can be had. Numbers of x86-64.
    private static readonly uint[] s_refused =
    [
        41, 42, 43, 49, 50, 53, 288,
        57, 58, 59, 62, 101, 310, 311, 322,
        76, 77, 82, 83, 84, 85, 86, 87, 88, 90, 91, 92, 93, 94, 133, 258, 259, 260, 263, 264, 265, 266, 268, 316,
        425, 426, 427, 437, 452,
    ];

    /// <summary>Watches whether the process that asked is still there, and ends with it: a library that hangs would go on alone.</summary>
    public static Timer EndWithParent()
    {
        var parent = GetParent();
        return new Timer(
            _ =>
            {
                if (GetParent() != parent)
                {
                    Environment.FailFast(null);
                }
            },
            null,
            TimeSpan.FromSeconds(2),
            TimeSpan.FromSeconds(2));
    }

    /// <summary>Gives up, for all threads and for good, what decoding does not need; what the kernel does not grant is said in the log.</summary>
    /// <param name="mayStart">Whether it may still become another program, which is confined as it is and has a limit of time too.</param>
    public static void Confine(bool mayStart = false)
    {
        var time = new Limit(MostSeconds);
        if (mayStart)
        {
            _ = SetLimit(TimeLimit, ref time);
        }

        var (data, core) = (new Limit(MostBytes), new Limit(0));
        var limited = SetLimit(DataLimit, ref data) == 0 & SetLimit(CoreLimit, ref core) == 0;
        if (!limited || Control(NoNewPrivileges, 1, 0, 0, 0) != 0 || !Filter(mayStart, mayWrite: false))
        {
            Console.Error.WriteLine("The decoder of compressed sound runs with all the rights of Lyrotrans: the kernel does not confine it.");
        }
    }

    /// <summary>The same before it becomes a program that makes one file, which it may write, and no other.</summary>
    /// <param name="file">A file that is there.</param>
    /// <returns>Whether the kernel does all of it.</returns>
    public static bool ConfineTo(string file)
    {
        var (time, data, core) = (new Limit(MostSecondsToMake), new Limit(MostBytesToMake), new Limit(0));
        return SetLimit(TimeLimit, ref time) == 0 && SetLimit(DataLimit, ref data) == 0 && SetLimit(CoreLimit, ref core) == 0
            && Control(NoNewPrivileges, 1, 0, 0, 0) == 0 && OneFile.HoldTo(file) && Filter(mayStart: true, mayWrite: true);
    }

    /// <summary>Lets go of standard error: libraries write there what they think of a file, line after line as long as the file likes, into the log or a terminal of whoever asks.</summary>
    public static void Silence()
    {
        var nothing = Open("/dev/null", 0);
        _ = Duplicate(nothing, StandardError);
        _ = Close(nothing);
    }

    private static bool Filter(bool mayStart, bool mayWrite)
    {
        List<Step> steps =
        [
            new(0x20, 0, 0, 4), // load the architecture
            new(0x15, 1, 0, ArchitectureX64), // equal: skip one
            new(0x06, 0, 0, Kill),
            new(0x20, 0, 0, 0), // load the call's number
        ];
        foreach (var call in s_refused.Where(c => c != StartProgram || !mayStart))
        {
            steps.Add(new(0x15, 0, 1, call));
            steps.Add(new(0x06, 0, 0, Refuse));
        }

        // open (2) has its flags in the second argument, openat (257) in the third.
        foreach (var (call, argument) in new[] { (2u, 1u), (257u, 2u) })
        {
            steps.Add(new(0x15, 0, mayWrite ? (byte)4 : (byte)3, call));
            steps.Add(new(0x20, 0, 0, 16 + (8 * argument)));
            if (mayWrite)
            {
                // Which file it may write is held elsewhere; none is emptied by being opened to be read.
                steps.Add(new(0x45, 2, 0, OpenForWriting)); // any of these bits: go on
            }

            steps.Add(new(0x45, 0, 1, mayWrite ? MakeOrEmpty : OpenForWriting | MakeOrEmpty));
            steps.Add(new(0x06, 0, 0, Refuse));
            steps.Add(new(0x20, 0, 0, 0));
        }

        // clone (56) makes threads and, without that flag, processes; of clone3 (435) the flags cannot be seen, and who asks for it takes clone where it is not there.
        steps.Add(new(0x15, 0, 3, 56));
        steps.Add(new(0x20, 0, 0, 16));
        steps.Add(new(0x45, 1, 0, ThreadFlag));
        steps.Add(new(0x06, 0, 0, Refuse));
        steps.Add(new(0x20, 0, 0, 0));
        steps.Add(new(0x15, 0, 1, 435));
        steps.Add(new(0x06, 0, 0, NotThere));
        steps.Add(new(0x06, 0, 0, Allow));
        var program = steps.ToArray();
        fixed (Step* first = program)
        {
            var all = new Filters { Count = (ushort)program.Length, First = first };
            return SystemCall(SystemCallSeccomp, 1, 1, &all) == 0; // SECCOMP_SET_MODE_FILTER, for all threads
        }
    }

    /// <summary>Becomes another program, with nothing of this one's surroundings. Comes back only where it cannot be started.</summary>
    /// <param name="arguments">Its path first.</param>
    public static void Become(IReadOnlyList<string> arguments)
    {
        var words = (byte**)NativeMemory.AllocZeroed((nuint)(arguments.Count + 1), (nuint)sizeof(byte*));
        for (var i = 0; i < arguments.Count; i++)
        {
            words[i] = (byte*)Marshal.StringToCoTaskMemUTF8(arguments[i]);
        }

        byte* nothing = null;
        _ = Execute(words[0], words, &nothing);
    }

    [LibraryImport("libc", EntryPoint = "execve")]
    private static partial int Execute(byte* path, byte** arguments, byte** surroundings);

    [LibraryImport("libc", EntryPoint = "open", StringMarshalling = StringMarshalling.Utf8)]
    private static partial int Open(string path, int flags);

    [LibraryImport("libc", EntryPoint = "dup2")]
    private static partial int Duplicate(int from, int to);

    [LibraryImport("libc", EntryPoint = "close")]
    private static partial int Close(int file);

    [LibraryImport("libc", EntryPoint = "getppid")]
    private static partial int GetParent();

    [LibraryImport("libc", EntryPoint = "setrlimit")]
    private static partial int SetLimit(int what, ref Limit limit);

    [LibraryImport("libc", EntryPoint = "prctl")]
    private static partial int Control(int what, nuint a, nuint b, nuint c, nuint d);

    [LibraryImport("libc", EntryPoint = "syscall")]
    private static partial nint SystemCall(nint number, nuint operation, nuint flags, Filters* program);

    [StructLayout(LayoutKind.Sequential)]
    private struct Limit(ulong most)
    {
        public ulong Now = most;
        public ulong Most = most;
    }

    [StructLayout(LayoutKind.Sequential)]
    private readonly struct Step(ushort code, byte ifTrue, byte ifFalse, uint value)
    {
        public readonly ushort Code = code;
        public readonly byte IfTrue = ifTrue;
        public readonly byte IfFalse = ifFalse;
        public readonly uint Value = value;
    }

    [StructLayout(LayoutKind.Sequential)]
    private struct Filters
    {
        public ushort Count;
        public Step* First;
    }
}
