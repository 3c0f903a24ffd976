using System.Diagnostics;

namespace Lyrotrans.Testing;

/// <summary>Runs a program that somebody else wrote.</summary>
internal static class OtherProgram
{
    /// <summary>A script of the tests' folder of independent eyes.</summary>
    public static string Script(string name) => Repository.Path("tests", "eyes", name);

    public static string Model => Repository.Path("src", "Lyrotrans.Formats", "Aaf", "Model", "aaf-model.json");

    /// <returns>Exit code and what was printed, errors after it.</returns>
    public static (int Code, byte[] Output, string Errors) Run(string program, params string[] arguments)
    {
        using var process = Process.Start(new ProcessStartInfo(program, arguments) { RedirectStandardOutput = true, RedirectStandardError = true })!;
        var errors = process.StandardError.ReadToEndAsync();
        using var output = new MemoryStream();
        process.StandardOutput.BaseStream.CopyTo(output);
        process.WaitForExit();
        return (process.ExitCode, output.ToArray(), errors.Result);
    }
}
