using System.CommandLine;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Returning;

namespace Lyrotrans.Cli;

/// <summary><c>lyro returned SENT FILE…</c>: what files that came back are of, by their sound.</summary>
internal static class ReturnedCommand
{
    public static Command Make()
    {
        var sent = new Argument<string>("SENT") { Description = $"What was sent: a folder of files from zero, or an {SessionFormats.Words("or")} file or a session document with its media." };
        var files = new Argument<string[]>("FILE") { Description = "Sound files that came back.", Arity = ArgumentArity.OneOrMore };
        var command = new Command("returned", "Says of sound files that came back what they are of, by their sound: the track that was sent, place, drift, level, polarity, and where they differ.") { sent, files };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var back = parsed.GetRequiredValue(files).Select(f => new SoundFileOf(Path.GetFileName(f), new DiskFile(Existing(f)))).ToList();
                var found = Returned.Look(SentPackage.Whole(LoadedSide.Load(parsed.GetRequiredValue(sent), scratch.Path)), back, pulse.Report, pulse.Stop);
                return () => Print(found);
            },
            stop));
        return command;
    }

    private static string Existing(string path) => File.Exists(path) ? path : throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file.", "Check the path.");

    private static int Print(IReadOnlyList<CameBack> found)
    {
        foreach (var one in found)
        {
            Console.WriteLine($"{one.Name}: {one.Verdict}");
        }

        return found.Any(f => f.Kind == CameBackKind.Unread) ? ExitCode.BadInput : ExitCode.Good;
    }
}
