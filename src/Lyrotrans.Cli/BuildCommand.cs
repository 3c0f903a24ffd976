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
    private static readonly Dictionary<string, SoundContainer> s_formats = Choices.Containers.ToDictionary(c => c.Id, c => c.Value);

    // As people say it: 16, 24, 32 or float.
    private static readonly Dictionary<string, SampleEncoding> s_depths = Choices.Encodings.ToDictionary(c => c.Value.IsFloat() ? "float" : $"{c.Value.Bits()}", c => c.Value);

    // A chosen start needs a place, which a preparation says.
    private static readonly Dictionary<string, RangeStart> s_starts = Choices.Starts.Where(c => c.Value != RangeStart.Chosen).ToDictionary(c => c.Id.Replace(' ', '-'), c => c.Value);

    public static Command Make()
    {
        var session = new Argument<string>("SESSION") { Description = "An open session document, or a folder of time-stamped files and MIDI." };
        var into = new Option<string>("--out") { Description = "Folder for the package.", Required = true };
        var preparation = new Option<string?>("--preparation") { Description = "A preparation as JSON; without it everything that sounds goes." };
        var format = Among("--format", s_formats);
        var depth = Among("--depth", s_depths);
        var from = Among("--from", s_starts);
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
        return ExitCode.Good;
    }

    private static Preparation Preparation(string? file, LoadedSession loaded) => file is null
        ? Core.Preparing.Preparation.Default(loaded.Session, SessionFormats.Usual)
        : PreparationDocument.Read(File.ReadAllBytes(file), file);

    private static Option<string?> Among<T>(string name, Dictionary<string, T> values)
    {
        var option = new Option<string?>(name) { Description = $"{Phrases.List([.. values.Keys], "or")}." };
        option.AcceptOnlyFromAmong([.. values.Keys]);
        return option;
    }

    private static Preparation Chosen(Preparation preparation, string? format, string? depth, string? from) => preparation with
    {
        Container = format is null ? preparation.Container : s_formats[format],
        Encoding = depth is null ? preparation.Encoding : s_depths[depth],
        From = from is null ? preparation.From : s_starts[from],
    };
}
