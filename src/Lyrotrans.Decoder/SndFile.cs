using System.Runtime.InteropServices;

namespace Lyrotrans.Decoder;

/// <summary>The few calls of libsndfile that are used here.</summary>
internal static partial class SndFile
{
    public const string Package = "libsndfile1";
    public const int Read = 0x10;
    public const int Write = 0x20;
    public const int FormatFlac = 0x170000;
    public const int FormatOgg = 0x200000;
    public const int FormatMpeg = 0x230000;
    public const int Vorbis = 0x0060;
    public const int Layer3 = 0x0082;
    public const int Pcm16 = 0x0002;
    public const int Pcm24 = 0x0003;
    public const int CommentString = 5;
    private const string Library = "libsndfile.so.1";

    /// <summary>How a decoder ends where the library is not there.</summary>
    public const int NotInstalled = 4;

    /// <summary>How one ends that is to write a file, where the kernel cannot hold it to that one.</summary>
    public const int NotConfined = 5;

    /// <summary>Loads the library and what it needs, before the process gives up its rights; false where it is not installed.</summary>
    public static bool TryLoad() => NativeLibrary.TryLoad(Library, out _);

    [StructLayout(LayoutKind.Sequential)]
    public struct Info
    {
        public long Frames;
        public int SampleRate;
        public int Channels;
        public int Format;
        public int Sections;
        public int Seekable;
    }

    [LibraryImport(Library, EntryPoint = "sf_version_string")]
    public static partial nint Version();

    [LibraryImport(Library, EntryPoint = "sf_open", StringMarshalling = StringMarshalling.Utf8)]
    public static partial nint Open(string path, int mode, ref Info info);

    [LibraryImport(Library, EntryPoint = "sf_close")]
    public static partial int Close(nint file);

    [LibraryImport(Library, EntryPoint = "sf_seek")]
    public static partial long Seek(nint file, long frames, int whence);

    [LibraryImport(Library, EntryPoint = "sf_readf_float")]
    public static partial long ReadFloats(nint file, Span<float> samples, long frames);

    [LibraryImport(Library, EntryPoint = "sf_writef_int")]
    public static partial long WriteIntegers(nint file, ReadOnlySpan<int> samples, long frames);

    [LibraryImport(Library, EntryPoint = "sf_writef_double")]
    public static partial long WriteDoubles(nint file, ReadOnlySpan<double> samples, long frames);

    /// <summary>From 0 to 1; for formats that lose something (SFC_SET_VBR_ENCODING_QUALITY for Vorbis, SFC_SET_COMPRESSION_LEVEL for others).</summary>
    public static void SetQuality(nint file, double quality)
    {
        _ = Command(file, 0x1300, ref quality, sizeof(double));
        var compression = 1 - quality;
        _ = Command(file, 0x1301, ref compression, sizeof(double));
    }

    /// <summary>A constant bit rate of MP3 (SFC_SET_BITRATE_MODE, SFC_SET_COMPRESSION_LEVEL): the library counts down from the most that a rate of samples can have.</summary>
    public static void SetConstantRate(nint file, int kilobits, int hz)
    {
        var constant = 0;
        _ = Command(file, 0x1305, ref constant, sizeof(int));
        var (least, most) = hz >= 32_000 ? (32.0, 320.0) : hz >= 16_000 ? (8.0, 160.0) : (8.0, 64.0);
        var compression = Math.Clamp((most - kilobits) / (most - least), 0, 1);
        _ = Command(file, 0x1301, ref compression, sizeof(double));
    }

    [LibraryImport(Library, EntryPoint = "sf_command")]
    private static partial int Command(nint file, int command, ref double value, int size);

    [LibraryImport(Library, EntryPoint = "sf_command")]
    private static partial int Command(nint file, int command, ref int value, int size);

    [LibraryImport(Library, EntryPoint = "sf_set_string", StringMarshalling = StringMarshalling.Utf8)]
    public static partial int SetString(nint file, int kind, string text);

    public static string Error(nint file) => Marshal.PtrToStringUTF8(StrError(file)) ?? "unknown error";

    [LibraryImport(Library, EntryPoint = "sf_strerror")]
    private static partial nint StrError(nint file);
}
