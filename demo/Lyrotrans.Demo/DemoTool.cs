using System.Diagnostics;

namespace Lyrotrans.Demo;

/// <summary>ffmpeg, which makes what the demo has of picture and of lossy sound.</summary>
internal static class DemoTool
{
    private const string Program = "/usr/bin/ffmpeg";

    /// <param name="arguments">What it is to do.</param>
    /// <param name="feed">Writes what it reads on its standard input.</param>
    /// <exception cref="IOException">It is not installed, or could not do it.</exception>
    public static void Run(IEnumerable<string> arguments, Action<Stream>? feed = null)
    {
        if (!File.Exists(Program))
        {
            throw new IOException("The demo's picture is made by ffmpeg, which is not installed. Install the Debian package ffmpeg.");
        }

        using var process = Process.Start(new ProcessStartInfo(Program, ["-v", "error", "-y", .. arguments]) { RedirectStandardInput = true })!;
        feed?.Invoke(process.StandardInput.BaseStream);
        process.StandardInput.Close();
        process.WaitForExit();
        if (process.ExitCode != 0)
        {
            throw new IOException("ffmpeg could not write a file of the demo.");
        }
    }
}
