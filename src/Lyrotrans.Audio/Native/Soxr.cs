using System.Runtime.InteropServices;

namespace Lyrotrans.Audio.Native;

/// <summary>The few calls of libsoxr that are used here.</summary>
internal static partial class Soxr
{
    public const string Package = "libsoxr0";
    public const uint VeryHighQuality = 6;

    // Without it the highest octave falls by up to 0.01 dB, which makes the filters shorter.
    public const uint NoRollOff = 2;

    // For ratios of very long spans.
    public const uint ExactClock = 8;
    public const int Float64Interleaved = 1;
    private const string Library = "libsoxr.so.0";

    [StructLayout(LayoutKind.Sequential)]
    public struct IoSpec
    {
        public int InputType;
        public int OutputType;
        public double Scale;
        public nint Extra;
        public nuint Flags;
    }

    [StructLayout(LayoutKind.Sequential)]
    public struct QualitySpec
    {
        public double Precision;
        public double PhaseResponse;
        public double PassbandEnd;
        public double StopbandBegin;
        public nint Extra;
        public nuint Flags;
    }

    [LibraryImport(Library, EntryPoint = "soxr_version")]
    public static partial nint Version();

    [LibraryImport(Library, EntryPoint = "soxr_quality_spec")]
    public static partial QualitySpec Quality(nuint recipe, nuint flags);

    [LibraryImport(Library, EntryPoint = "soxr_create")]
    public static partial nint Create(double inputRate, double outputRate, uint channels, out nint error, in IoSpec io, in QualitySpec quality, nint runtime);

    [LibraryImport(Library, EntryPoint = "soxr_process")]
    public static unsafe partial nint Process(nint resampler, double* input, nuint inputFrames, out nuint used, double* output, nuint outputFrames, out nuint made);

    [LibraryImport(Library, EntryPoint = "soxr_delete")]
    public static partial void Delete(nint resampler);
}
