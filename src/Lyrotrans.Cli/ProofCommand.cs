using System.CommandLine;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Cli;

/// <summary><c>lyro proof OUT --against IN</c>: whether what was written holds what was meant.</summary>
internal static class ProofCommand
{
    public static Command Make()
    {
        var package = new Argument<string>("OUT") { Description = $"A package zip or its folder, an {SessionFormats.Words("or")} file, or an open session document." };
        var against = new Option<string>("--against") { Description = "The session that it was built from.", Required = true };
        var all = new Option<bool>("--all") { Description = "Every row, not only what differs." };
        var command = new Command("proof", "Reads what was written back and compares it with its session.") { package, against, all };
        var choices = new PreparationChoices("without it and what follows a package is held to its own manifest's.");
        var accept = AcceptOption.Make();
        choices.AddTo(command);
        command.Options.Add(accept);
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var loaded = SessionLoader.Load(parsed.GetRequiredValue(against), scratch.Path);
                var report = FileProof.Prove(parsed.GetRequiredValue(package), loaded, scratch.Path, pulse.Report, pulse.Stop, choices.AreSaid(parsed) ? choices.Of(parsed, loaded) : null, parsed.GetValue(accept));
                return () => Print(report, parsed.GetValue(all));
            },
            stop));
        return command;
    }

    private static int Print(ProofReport report, bool all)
    {
        Console.WriteLine(report.Verdict);
        Console.WriteLine($"{report.Rows.Count} comparisons, {report.Failures} failed; {report.Clips.Count} clips; largest residual {Decibels.Words(report.WorstResidualDb)} dBFS");
        foreach (var row in report.Rows.Where(r => all || !r.Passed))
        {
            Console.WriteLine($"{(row.Passed ? " " : "x")} {row.Subject}: {row.What}: meant {row.Meant}, found {row.Found}, difference {row.Difference}");
        }

        return report.Passed ? ExitCode.Good : report.LacksSoundAlone ? ExitCode.WithoutSound : ExitCode.Differences;
    }
}
