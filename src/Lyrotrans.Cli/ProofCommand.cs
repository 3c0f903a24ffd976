using System.CommandLine;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Cli;

/// <summary><c>lyro proof PACKAGE --against SESSION</c>: whether a package holds what was meant.</summary>
internal static class ProofCommand
{
    public static Command Make()
    {
        var package = new Argument<string>("PACKAGE") { Description = "A package zip." };
        var against = new Option<string>("--against") { Description = "The session that it was built from.", Required = true };
        var all = new Option<bool>("--all") { Description = "Every row, not only what differs." };
        var command = new Command("proof", "Reads a package back and compares it with its session.") { package, against, all };
        command.SetAction((parsed, stop) => Task.Run(
            () =>
            {
                var zip = parsed.GetRequiredValue(package);
                if (!File.Exists(zip))
                {
                    throw new Core.Errors.BadInputException(zip, string.Empty, "There is no such file.", "Check the path.");
                }

                using var scratch = new ScratchFolder();
                var loaded = SessionLoader.Load(parsed.GetRequiredValue(against), scratch.Path);
                using var reader = PackageReader.Open(zip, Path.GetFileName(zip));
                var plan = DeliveryPlan.Make(loaded.Session, reader.Manifest.Preparation, SoundMeasures.FromFiles(loaded.Session, loaded.Media, stop));
                var report = PackageProof.Prove(zip, Path.GetFileName(zip), plan, loaded.Media, _ => { }, stop);
                Print(report, parsed.GetValue(all));
                return report.Passed ? ExitCode.Good : ExitCode.Differences;
            },
            stop));
        return command;
    }

    private static void Print(ProofReport report, bool all)
    {
        Console.WriteLine(report.Verdict);
        Console.WriteLine($"{report.Rows.Count} comparisons, {report.Failures} failed; {report.Clips.Count} clips; largest residual {Decibels.Words(report.WorstResidualDb)} dBFS");
        foreach (var row in report.Rows.Where(r => all || !r.Passed))
        {
            Console.WriteLine($"{(row.Passed ? " " : "x")} {row.Subject}: {row.What}: meant {row.Meant}, found {row.Found}, difference {row.Difference}");
        }
    }
}
