using System.CommandLine;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Converting;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Cli;

/// <summary><c>lyro convert IN OUT [--receiver SHEET.json]</c>: a session in another form.</summary>
internal static class ConvertCommand
{
    public static Command Make()
    {
        var input = new Argument<string>("IN") { Description = $"An {SessionFormats.Words("or")} file, an open session document, or a folder of time-stamped files and MIDI." };
        var output = new Argument<string>("OUT") { Description = $"A path that ends in {SessionConvert.Outputs("or")}, or a folder for files from zero." };
        var receiver = new Option<string?>("--receiver") { Description = "What the receiver takes, as JSON." };
        var command = new Command("convert", "Writes a session in another form, and says what had to give way.") { input, output, receiver };
        var accept = AcceptOption.Make();
        var key = new Option<string?>("--key") { Description = "A file with the private key to sign with, in PEM; without it the installation's own." };
        command.Options.Add(accept);
        command.Options.Add(key);
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                using var scratch = new ScratchFolder();
                var loaded = SessionLoader.Load(parsed.GetRequiredValue(input), scratch.Path);
                var into = parsed.GetRequiredValue(output);
                var sheet = parsed.GetValue(receiver);
                var preparation = SessionConvert.Prepared(loaded, into, sheet is null ? null : File.ReadAllBytes(sheet), sheet ?? string.Empty).Accepting(parsed.GetValue(accept) ?? []);
                Said.Print(loaded.Findings);
                var notes = SessionConvert.Write(loaded, preparation, into, new PackageMaker(Stamps.Now(), InstallationKey.Get(parsed.GetValue(key))), pulse.Stop).ToList();
                var gaps = SessionConvert.Gaps(loaded, preparation, into, pulse.Stop);
                return () => Print(notes, gaps, into);
            },
            stop));
        return command;
    }

    private static int Print(IEnumerable<string> notes, SoundGaps gaps, string into)
    {
        foreach (var note in notes)
        {
            Console.Error.WriteLine(note);
        }

        Console.WriteLine(into);
        Said.Print(GapRows.Findings(gaps.All));
        return gaps.Open.Count > 0 ? ExitCode.WithoutSound : ExitCode.Good;
    }
}
