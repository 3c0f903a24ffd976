using System.CommandLine;
using System.Globalization;
using System.Text.Json.Nodes;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Storing;
using Lyrotrans.Files;
using Lyrotrans.Core.Findings;
using Lyrotrans.Workflow.Placing;

namespace Lyrotrans.Cli;

/// <summary><c>lyro place REFERENCE FILE… [--json]</c>: where sound files lie in another, by their sound.</summary>
internal static class PlaceCommand
{
    public static Command Make()
    {
        var reference = new Argument<string>("REFERENCE") { Description = "A mix, a guide mix or a track that they lie in." };
        var files = new Argument<string[]>("FILE") { Description = "Sound files whose place is lost.", Arity = ArgumentArity.OneOrMore };
        var json = new Option<bool>("--json") { Description = "Everything, as JSON." };
        var command = new Command("place", "Finds where sound files lie in another, by their sound: in samples of the reference, from its first.") { reference, files, json };
        command.SetAction((parsed, stop) => CommandWork.RunAsync(
            pulse =>
            {
                var found = SoundPlaces.Find(File(parsed.GetRequiredValue(reference)), [.. parsed.GetRequiredValue(files).Select(File)], pulse.Report, pulse.Stop);
                return () => Print(found, parsed.GetValue(json));
            },
            stop));
        return command;
    }

    private static (IStoredFile File, string Name) File(string path) => System.IO.File.Exists(path)
        ? (new DiskFile(path), path)
        : throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file.", "Check the path.");

    private static int Print(IReadOnlyList<FoundPlace> found, bool asJson)
    {
        if (asJson)
        {
            Console.WriteLine(new JsonArray([.. found.Select(Json)]).ToJsonString());
        }
        else
        {
            foreach (var one in found.Where(f => f.Problem is null))
            {
                Console.WriteLine($"{one.Name}: {Words(one.Place)}");
            }
        }

        Said.Print(found.Select(f => f.Problem).OfType<Core.Findings.Finding>());
        return found.Any(f => f.Problem is not null) ? ExitCode.BadInput : ExitCode.Good;
    }

    private static string Words(SignalPlace? found) => found is not { } place ? "not found" : string.Create(
        CultureInfo.InvariantCulture,
        $"at sample {Digits.Grouped(place.Nearest)} ({place.Sample - place.Nearest:+0.00;-0.00;+0.00}), {(place.IsSure ? "sure" : "not sure")}: {place.Agreement * 100:0} % of its stretches lie there{Second(place)}, correlation {place.Correlation:0.00}, {place.GainDb:+0.0;-0.0;+0.0} dB{(place.Inverted ? ", polarity inverted" : string.Empty)}");

    private static string Second(SignalPlace place) => place.Second is { } second && place.SecondAgreement > 0
        ? string.Create(CultureInfo.InvariantCulture, $", {place.SecondAgreement * 100:0} % near {Digits.Grouped(second)}")
        : string.Empty;

    // Without a zero that is below zero.
    private static double Rounded(double value) => Math.Round(value, 3) + 0.0;

    private static JsonObject Json(FoundPlace found)
    {
        var json = new JsonObject { ["file"] = found.Name };
        if (found.Problem is { } problem)
        {
            json["problem"] = problem.Text;
            json["code"] = problem.Code.ToString();
        }
        else if (found.Place is not { } place)
        {
            json["found"] = false;
        }
        else
        {
            json["found"] = true;
            json["sample"] = Rounded(place.Sample);
            json["sure"] = place.IsSure;
            json["certainty"] = Rounded(place.Certainty);
            json["agreement"] = Rounded(place.Agreement);
            json["second"] = place.Second;
            json["secondAgreement"] = Rounded(place.SecondAgreement);
            json["correlation"] = Rounded(place.Correlation);
            json["gainDb"] = Rounded(place.GainDb);
            json["inverted"] = place.Inverted;
        }

        return json;
    }
}
