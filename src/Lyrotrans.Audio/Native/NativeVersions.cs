using System.Runtime.InteropServices;
using Lyrotrans.Decoder;

namespace Lyrotrans.Audio.Native;

/// <summary>Which native libraries make sound here: another version of one may make other bytes.</summary>
public static class NativeVersions
{
    /// <summary>Each with its version, or that it is not here.</summary>
    public static string Words { get; } = string.Join(", ", Of("libsndfile", SndFile.Version), Of("libsoxr", Soxr.Version), $"fluidsynth {Of("fluidsynth", FluidSynth.Version)}");

    private static string Of(string name, Func<nint> version)
    {
        try
        {
            return Marshal.PtrToStringUTF8(version()) ?? $"{name} of no version";
        }
        catch (DllNotFoundException)
        {
            return $"no {name}";
        }
    }
}
