using System.Diagnostics;
using System.Runtime.InteropServices;
using Lyrotrans.Decoder;

namespace Lyrotrans.Audio.Native;

/// <summary>The program that does confined what hostile files are read with.</summary>
internal static class HelperProgram
{
    /// <summary>How it is started: with nothing of what this process knows in its surroundings, where passwords are handed to it.</summary>
    /// <param name="arguments">What it is to do.</param>
    public static ProcessStartInfo With(params IEnumerable<string> arguments)
    {
        var runtime = Path.GetFullPath(Path.Combine(RuntimeEnvironment.GetRuntimeDirectory(), "../../../dotnet"));
        var start = new ProcessStartInfo(runtime, [typeof(DecoderQuestion).Assembly.Location, .. arguments])
        {
            RedirectStandardInput = true,
            RedirectStandardOutput = true,
            WorkingDirectory = "/",
        };
        start.Environment.Clear();
        foreach (var (name, value) in new[] { ("DOTNET_EnableDiagnostics", "0"), ("DOTNET_EnableWriteXorExecute", "0"), ("DOTNET_gcConcurrent", "0"), ("DOTNET_GCHeapHardLimit", "0x4000000"), ("DOTNET_TieredPGO", "0") })
        {
            start.Environment[name] = value;
        }

        return start;
    }
}
