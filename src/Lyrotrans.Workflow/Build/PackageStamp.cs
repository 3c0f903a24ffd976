using System.Runtime.InteropServices;
using System.Runtime.Intrinsics;
using Lyrotrans.Audio.Native;
using Lyrotrans.Audio.Pictures;

namespace Lyrotrans.Workflow.Build;

/// <summary>When a package was made and with what: where that is what is here, the same plan gives the same bytes.</summary>
/// <param name="Made">The date of its files, as the package says it; nothing can prove it.</param>
/// <param name="Writer">The form in which files are written.</param>
/// <param name="Processor">What it was computed on.</param>
/// <param name="Libraries">The native libraries that made its sound.</param>
public sealed record PackageStamp(DateTimeOffset Made, int Writer, string Processor, string Libraries)
{
    /// <summary>Goes up with every change of a byte that the program writes for the same session; tests/fixtures/written.tsv holds most of them.</summary>
    public const int WriterHere = 7;

    /// <summary>The first whose session document names the package's own files as its media.</summary>
    public const int FirstWithFiles = 7;

    private const string Pictures = ", ffmpeg ";
    private static readonly string s_processor = $"{RuntimeInformation.ProcessArchitecture}, {(Vector512.IsHardwareAccelerated ? 512 : Vector256.IsHardwareAccelerated ? 256 : 128)} bits at once";

    /// <summary>What is made here.</summary>
    /// <param name="made">The date of its files.</param>
    /// <param name="pictures">Whether a picture is in it, which ffmpeg makes.</param>
    public static PackageStamp Here(DateTimeOffset made, bool pictures) => new(made, WriterHere, s_processor, pictures ? $"{NativeVersions.Words}{Pictures}{PictureTool.Version}" : NativeVersions.Words);

    /// <summary>In what its machine differs from what is here, in words; null where in nothing. What is computed or coded may be another then, by as much as rounding.</summary>
    public string? OtherMachine()
    {
        var here = Here(Made, Libraries.Contains(Pictures, StringComparison.Ordinal));
        return Processor != here.Processor ? $"made on {Processor}, here it is {here.Processor}"
            : Libraries != here.Libraries ? $"made with {Libraries}, here it is {here.Libraries}"
            : null;
    }
}
