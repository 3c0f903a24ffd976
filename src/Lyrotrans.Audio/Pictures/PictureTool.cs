using System.Diagnostics;

namespace Lyrotrans.Audio.Pictures;

/// <summary>Which ffmpeg makes pictures here: another may make other bytes.</summary>
public static class PictureTool
{
    private const string Program = "/usr/bin/ffmpeg";
    private static readonly Lazy<string> s_version = new(Ask);

    /// <summary>Its version, or that it is not here.</summary>
    public static string Version => s_version.Value;

    private static string Ask()
    {
        if (!File.Exists(Program))
        {
            return "is not here";
        }

        using var process = Process.Start(new ProcessStartInfo(Program, ["-hide_banner", "-version"]) { RedirectStandardOutput = true, RedirectStandardInput = true })!;
        process.StandardInput.Close();
        var said = process.StandardOutput.ReadToEnd().Split(' ');
        process.WaitForExit();
        return said.Length > 2 ? said[2] : "of no version";
    }
}
