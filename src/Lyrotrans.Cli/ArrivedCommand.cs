using System.CommandLine;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Arriving;

namespace Lyrotrans.Cli;

/// <summary><c>lyro arrived SENT FOUND</c>: what became of a session at the other side.</summary>
internal static class ArrivedCommand
{
    public static Command Make()
    {
        var sent = new Argument<string>("SENT") { Description = $"What was sent: an {SessionFormats.Words("or")} file or a session document with its media, MIDI, or a folder of files from zero; a folder with all of them, such as a package that was unpacked." };
        var found = new Argument<string>("FOUND") { Description = "What the other side wrote of it, as any of these." };
        var command = new Command("arrived", "Compares, clip by clip in samples, what another program made of a session; clips are known again by their sound where it is there.") { sent, found };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var report = Arrival.Compare(SentPackage.Whole(LoadedSide.Load(parsed.GetRequiredValue(sent), scratch.Path)), LoadedSide.Load(parsed.GetRequiredValue(found), scratch.Path), pulse.Report, pulse.Stop);
                return () => Print(report);
            },
            stop));
        return command;
    }

    private static int Print(ArrivalReport report)
    {
        Console.WriteLine(report.Verdict);
        Console.WriteLine(report.BasisWords);
        if (report.NotComparedWords.Length > 0)
        {
            Console.WriteLine(report.NotComparedWords);
        }

        foreach (var row in report.Rows)
        {
            Console.WriteLine($"x {row.Subject}: {row.What}: sent {row.Sent}, found {row.Found}, difference {row.Difference}");
        }

        foreach (var added in report.Added)
        {
            Console.WriteLine($"  {added}: of nothing that was sent");
        }

        return report.IsSame ? ExitCode.Good : ExitCode.Differences;
    }
}
