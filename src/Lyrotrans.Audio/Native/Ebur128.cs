using System.Runtime.InteropServices;

namespace Lyrotrans.Audio.Native;

/// <summary>The few calls of libebur128 that are used here.</summary>
internal static partial class Ebur128
{
    public const string Package = "libebur128-1";

    /// <summary>Integrated loudness and loudness range.</summary>
    public const int Loudnesses = 15;

    private const string Library = "libebur128.so.1";

    [LibraryImport(Library, EntryPoint = "ebur128_init")]
    public static partial nint Init(uint channels, nuint rate, int mode);

    [LibraryImport(Library, EntryPoint = "ebur128_destroy")]
    public static partial void Destroy(ref nint state);

    [LibraryImport(Library, EntryPoint = "ebur128_add_frames_double")]
    public static partial int Add(nint state, ReadOnlySpan<double> frames, nuint count);

    [LibraryImport(Library, EntryPoint = "ebur128_loudness_global")]
    public static partial int Loudness(nint state, out double lufs);

    [LibraryImport(Library, EntryPoint = "ebur128_loudness_range")]
    public static partial int Range(nint state, out double lu);
}
