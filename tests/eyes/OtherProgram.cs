using System.Diagnostics;

namespace Lyrotrans.Eyes;

/// <summary>Runs a program that somebody else wrote.</summary>
internal static class OtherProgram
{
    /// <summary>A script of the tests' folder of independent eyes.</summary>
    public static string Script(string name) => Path.Combine(Root(), "tests", "eyes", name);

    public static string Model => Path.Combine(Root(), "src", "Lyrotrans.Formats", "Aaf", "Model", "aaf-model.json");

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

    private static string Root()
    {
        for (var at = new DirectoryInfo(AppContext.BaseDirectory); at is not null; at = at.Parent)
        {
            if (File.Exists(Path.Combine(at.FullName, "Lyrotrans.slnx")))
            {
                return at.FullName;
            }
        }

        throw new InvalidOperationException("The tests lie outside the repository.");
    }
}
