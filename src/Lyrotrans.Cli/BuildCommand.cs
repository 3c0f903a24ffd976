using System.CommandLine;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Cli;

/// <summary><c>lyro build SESSION --out DIR</c>: a package of files from zero.</summary>
internal static class BuildCommand
{
    public static Command Make()
    {
        var session = new Argument<string>("SESSION") { Description = "An open session document, or a folder of time-stamped files and MIDI." };
        var into = new Option<string>("--out") { Description = "Folder for the package.", Required = true };
        var preparation = new Option<string?>("--preparation") { Description = "A preparation as JSON; without it everything that sounds goes." };
        var format = new Option<string?>("--format") { Description = "wav, flac or aiff." };
        format.AcceptOnlyFromAmong("wav", "flac", "aiff");
        var depth = new Option<string?>("--depth") { Description = "16, 24, 32 or float." };
        depth.AcceptOnlyFromAmong("16", "24", "32", "float");
        var from = new Option<string?>("--from") { Description = "session-start or bar-1." };
        from.AcceptOnlyFromAmong("session-start", "bar-1");
        var command = new Command("build", "Builds a package: one from-zero file per track, MIDI, session document, sheet and manifest.")
        {
            session, into, preparation, format, depth, from,
        };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var loaded = SessionLoader.Load(parsed.GetRequiredValue(session), scratch.Path);
                Said.Print(loaded.Findings);
                var choices = Chosen(Preparation(parsed.GetValue(preparation), loaded), parsed.GetValue(format), parsed.GetValue(depth), parsed.GetValue(from));
                var plan = DeliveryPlan.Make(loaded.Session, choices, new SoundEndDictionary(loaded.Session, loaded.Media, pulse.Stop));
                var path = Path.Combine(parsed.GetRequiredValue(into), $"{plan.Root}.zip");
                var manifest = PackageFile.Build(plan, loaded.Media, path, Stamps.Now(), pulse.Report, pulse.Stop);
                foreach (var file in manifest.Files)
                {
                    Console.WriteLine($"{file.Sha256}  {file.Plan.Path}");
                }

                Console.WriteLine($"{path}: {manifest.Files.Count} files, {Digits.Bytes(new FileInfo(path).Length)}");
                return ExitCode.Good;
            },
            stop));
        return command;
    }

    private static Preparation Preparation(string? file, LoadedSession loaded) => file is null
        ? Core.Preparing.Preparation.Default(loaded.Session, SessionFormats.Usual)
        : PreparationDocument.Read(File.ReadAllBytes(file), file);

    private static Preparation Chosen(Preparation preparation, string? format, string? depth, string? from) => preparation with
    {
        Container = format switch { "flac" => SoundContainer.Flac, "aiff" => SoundContainer.Aiff, "wav" => SoundContainer.Wav, _ => preparation.Container },
        Encoding = depth switch
        {
            "16" => SampleEncoding.Integer16,
            "24" => SampleEncoding.Integer24,
            "32" => SampleEncoding.Integer32,
            "float" => SampleEncoding.Float32,
            _ => preparation.Encoding,
        },
        From = from switch { "bar-1" => RangeStart.Bar1, "session-start" => RangeStart.SessionStart, _ => preparation.From },
    };
}
