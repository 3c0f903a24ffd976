using System.CommandLine;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Cli;

/// <summary><c>lyro build SESSION --out DIR</c>: a package of files from zero.</summary>
internal static class BuildCommand
{
    public static Command Make()
    {
        var session = new Argument<string>("SESSION") { Description = "An open session document, or a folder of time-stamped files and MIDI." };
        var into = new Option<string>("--out") { Description = "Folder for the package.", Required = true };
        var choices = new PreparationChoices("without it everything that sounds goes.");
        var command = new Command("build", "Builds a package: one from-zero file per track, MIDI, session document, sheet and manifest.") { session, into };
        var accept = AcceptOption.Make();
        var key = new Option<string?>("--key") { Description = "A file with the private key to sign with, in PEM; without it the installation's own." };
        choices.AddTo(command);
        command.Options.Add(accept);
        command.Options.Add(key);
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var loaded = SessionLoader.Load(parsed.GetRequiredValue(session), scratch.Path);
                Said.Print(loaded.Findings);
                var plan = DeliveryPlan.Make(loaded.Session, choices.Of(parsed, loaded).Accepting(parsed.GetValue(accept) ?? []), new SoundEndDictionary(loaded.Session, loaded.Media, pulse.Stop));
                var path = Path.Combine(parsed.GetRequiredValue(into), $"{plan.Root}.zip");
                var manifest = PackageFile.Build(plan, loaded.Media, path, new PackageMaker(Stamps.Now(), InstallationKey.Get(parsed.GetValue(key))), pulse.Report, pulse.Stop);
                return () => Print(manifest, path);
            },
            stop));
        return command;
    }

    private static int Print(Manifest manifest, string path)
    {
        foreach (var file in manifest.Files)
        {
            Console.WriteLine($"{file.Sha256}  {file.Plan.Path}");
        }

        Console.WriteLine($"{path}: {manifest.Files.Count} files, {Digits.Bytes(new FileInfo(path).Length)}");
        var lacking = GapRows.Findings(manifest.Gaps).ToList();
        Said.Print(lacking);
        return lacking.Count > 0 ? ExitCode.WithoutSound : ExitCode.Good;
    }
}
