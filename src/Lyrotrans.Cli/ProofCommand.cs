using System.CommandLine;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;

namespace Lyrotrans.Cli;

/// <summary><c>lyro proof OUT [--against IN]</c>: whether what was written holds what was meant.</summary>
internal static class ProofCommand
{
    public static Command Make()
    {
        var package = new Argument<string>("OUT") { Description = $"A package zip or its folder, an {SessionFormats.Words("or")} file, or an open session document." };
        var against = new Option<string>("--against") { Description = "The session that it was built from; without it a package is checked against what it says of itself, and never called proved." };
        var with = new Option<string[]>("--with") { Description = "For a follow-up: the package before it, or packages, the first one first. All are checked as the one that they make together.", AllowMultipleArgumentsPerToken = false };
        var all = new Option<bool>("--all") { Description = "Every row, not only what differs." };
        var command = new Command("proof", "Reads what was written back and compares it with its session.") { package, against, with, all };
        var choices = new PreparationChoices("without it and what follows a package is held to its own manifest's.");
        var accept = AcceptOption.Make();
        choices.AddTo(command);
        var keys = new Option<string[]>("--key") { Description = "A file with a key of whoever may have signed it, in PEM, or its fingerprint. May be given several times.", AllowMultipleArgumentsPerToken = false };
        command.Options.Add(accept);
        command.Options.Add(keys);
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var path = parsed.GetRequiredValue(package);
                var known = InstallationKey.Known(parsed.GetValue(keys) ?? [], FileProof.SignerOf(path));
                if (parsed.GetValue(against) is not { } source)
                {
                    var whole = FileProof.Check(path, known, scratch.Path, pulse.Report, pulse.Stop, parsed.GetValue(with));
                    return () => Print(whole, parsed.GetValue(all));
                }

                var loaded = SessionLoader.Load(source, scratch.Path);
                var report = FileProof.Prove(path, loaded, scratch.Path, pulse.Report, pulse.Stop, choices.AreSaid(parsed) ? choices.Of(parsed, loaded) : null, parsed.GetValue(accept), known, parsed.GetValue(with));
                return () => Print(report, parsed.GetValue(all));
            },
            stop));
        return command;
    }

    private static int Print(WholeReport report, bool all)
    {
        Console.WriteLine(report.Verdict);
        Print(report.Rows, all);
        return !report.IsWhole ? ExitCode.Differences : report.Whose is null ? ExitCode.SignerUnknown : report.Open.Count > 0 ? ExitCode.WithoutSound : ExitCode.Good;
    }

    private static int Print(ProofReport report, bool all)
    {
        Console.WriteLine(report.Verdict);
        Console.WriteLine($"{report.Rows.Count} comparisons, {report.Failures} failed; {report.Clips.Count} clips; largest residual {Decibels.Words(report.WorstResidualDb)} dBFS");
        Print(report.Rows, all);
        return report.Passed ? ExitCode.Good : report.LacksSoundAlone ? ExitCode.WithoutSound : ExitCode.Differences;
    }

    private static void Print(IEnumerable<ProofRow> rows, bool all)
    {
        foreach (var row in rows.Where(r => all || !r.Passed))
        {
            Console.WriteLine($"{(row.Passed ? " " : "x")} {row.Subject}: {row.What}: meant {row.Meant}, found {row.Found}, difference {row.Difference}");
        }
    }
}
