using System.Globalization;
using System.IO.Compression;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Converting;

/// <summary>Writes a session in another form: a file of clips, an open session document, or a folder of files from zero.</summary>
public static class SessionConvert
{
    private const string MediaFolder = "media";
    private const int MostShortfalls = 10;
    private const int MostShifts = 10;

    /// <summary>The preparation that a conversion follows: clips are kept where the form has clips.</summary>
    public static Preparation Prepared(LoadedSession loaded, string output, byte[]? receiver, string receiverName)
    {
        // Names stay what they are unless the receiver wants others.
        var format = FormatOf(output);
        var usual = Preparation.Default(loaded.Session, format ?? SessionFormats.Usual) with { NamePattern = "{track}" };
        var kept = format is null ? usual : usual with { Tracks = PreparationTreatment.OfAudio(usual, loaded.Session, Treatment.KeepClips) };
        var prepared = receiver is null ? kept : ReceiverSheet.Read(receiver, receiverName).Apply(kept, loaded.Session);

        // What the file is called says its form, whatever the receiver usually gets.
        return format is null ? prepared : prepared with { Clips = prepared.Clips with { Format = format } };
    }

    /// <summary>Whether a path is called as a file of clips is.</summary>
    public static bool IsClips(string path) => FormatOf(path) is not null;

    /// <summary>What a session can be written as, in words.</summary>
    public static string Outputs(string last) => Phrases.List([.. SessionFormats.OfClips.Select(f => f.Extension), OpenSessionFormat.FileExtension], last);

    private static ClipFormat? FormatOf(string path) => SessionFormats.OfPath(path)?.Clips;

    /// <summary>Which of a plan's files of clips a path is, by its name; several are numbered.</summary>
    public static int PartOf(DeliveryPlan plan, string path)
    {
        var name = Path.GetFileNameWithoutExtension(path);
        var part = Enumerable.Range(0, plan.ClipFiles.Count).FirstOrDefault(i => name.EndsWith(Suffix(plan, i), StringComparison.Ordinal));
        return plan.ClipFiles.Count == 1 ? 0 : part;
    }

    private static string Suffix(DeliveryPlan plan, int part) => string.Create(System.Globalization.CultureInfo.InvariantCulture, $"_{part + 1}_of_{plan.ClipFiles.Count}");

    /// <summary>Whether a path is called as an open session document is.</summary>
    public static bool IsDocument(string path) => path.EndsWith(OpenSessionFormat.FileExtension, StringComparison.OrdinalIgnoreCase);

    /// <param name="loaded">The session.</param>
    /// <param name="preparation">How it goes.</param>
    /// <param name="output">A path that ends as one of <see cref="Outputs"/>, or a folder.</param>
    /// <param name="maker">The date of a folder's files, and who signs.</param>
    /// <param name="stop">Stops between blocks.</param>
    /// <returns>What had to give way, in words.</returns>
    /// <exception cref="BadInputException">The form is not known, or nothing would be in it.</exception>
    /// <exception cref="IOException">It cannot be written.</exception>
    public static IReadOnlyList<string> Write(LoadedSession loaded, Preparation preparation, string output, PackageMaker maker, CancellationToken stop)
    {
        if (IsClips(output))
        {
            return WriteClips(loaded, preparation, output, stop);
        }

        if (IsDocument(output))
        {
            WriteDocument(loaded, output, stop);
            return [];
        }

        return Path.HasExtension(output) && !Directory.Exists(output)
            ? throw new BadInputException(ConversionCodes.UnknownForm, output, string.Empty, "This form cannot be written.", $"End it in {Outputs("or")}, or name a folder.")
            : WriteFolder(loaded, preparation, output, maker, stop);
    }

    /// <summary>What goes without its sound in any of these forms.</summary>
    public static SoundGaps Gaps(LoadedSession loaded, Preparation preparation, string output, CancellationToken stop) =>
        PlanOf(loaded, IsDocument(output) ? AllAsClips(loaded.Session).Accepting(preparation.Accepted) : preparation).GapsWith(MediaFaults.Of(loaded.Session, loaded.Media, stop));

    /// <summary>Every audio track with its clips, as a session document has them.</summary>
    public static Preparation AllAsClips(Session session) => Preparation.Default(session, SessionFormats.Usual) with
    {
        Tracks = [.. session.Tracks.Select(t => new TrackChoice(t.Id, t.Kind == TrackKind.Audio ? Treatment.KeepClips : Treatment.HoldBack))],
    };

    /// <summary>The plan of a file of clips of a loaded session.</summary>
    public static DeliveryPlan PlanOf(LoadedSession loaded, Preparation preparation) =>
        DeliveryPlan.Make(loaded.Session, preparation, new Dictionary<string, MediaSound>());

    private static IReadOnlyList<string> WriteClips(LoadedSession loaded, Preparation preparation, string output, CancellationToken stop)
    {
        var plan = PlanOf(loaded, preparation);
        if (plan.Clips is not { } clips)
        {
            throw new BadInputException(ConversionCodes.NoTracks, output, string.Empty, "No track would be in it: none is kept as clips.", "Take \"keep clips\" as the treatment of audio.");
        }

        if (plan.Problem is { } problem)
        {
            throw new BadInputException(BuildCodes.NotPossible, output, string.Empty, problem, "Give a receiver sheet that says so.");
        }

        var opener = new MediaOpener(loaded.Media, loaded.Session.Rate);
        var folder = Path.GetDirectoryName(Path.GetFullPath(output))!;
        foreach (var medium in plan.Files.Where(f => f.Kind == PlannedKind.ClipMedia))
        {
            WholeFile.Write(Path.Combine(folder, medium.Path[(plan.Root.Length + 1)..]), stream => ClipsFile.Sound(plan, medium.MediaId!, opener, loaded.Media, stop).Write(stream));
        }

        foreach (var part in plan.Files.Where(f => f.Kind == PlannedKind.ClipFile).Select(f => f.Part))
        {
            var path = plan.ClipFiles.Count == 1 ? output : Path.Combine(folder, $"{Path.GetFileNameWithoutExtension(output)}{Suffix(plan, part)}{Path.GetExtension(output)}");
            WholeFile.Write(path, stream => ClipsFile.Write(plan, part, opener, loaded.Media, stream, stop));
        }

        return [.. clips.Notes, .. Shortfalls(clips), .. Shifts(clips)];
    }

    private static IEnumerable<string> Shortfalls(ClipPlan clips)
    {
        foreach (var shortfall in clips.Shortfalls.Take(MostShortfalls))
        {
            yield return $"{shortfall.Track}, {shortfall.Clip}: {Digits.Grouped(shortfall.Has)} of {Digits.Grouped(shortfall.Wanted)} samples of handle {(shortfall.Before ? "before" : "after")} it.";
        }

        if (clips.Shortfalls.Count > MostShortfalls)
        {
            yield return $"{Digits.Grouped(clips.Shortfalls.Count - MostShortfalls)} more handles are short.";
        }
    }

    private static IEnumerable<string> Shifts(ClipPlan clips)
    {
        foreach (var shift in clips.Shifts.Take(MostShifts))
        {
            yield return string.Create(CultureInfo.InvariantCulture, $"{shift.Track}, {shift.Clip}: its sound comes {Math.Abs(shift.Samples):0.###} of a sample too {(shift.Samples > 0 ? "early" : "late")}.");
        }

        if (clips.Shifts.Count > MostShifts)
        {
            yield return $"{Digits.Grouped(clips.Shifts.Count - MostShifts)} more clips are off by part of a sample.";
        }
    }

    private static void WriteDocument(LoadedSession loaded, string output, CancellationToken stop)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(output))!;
        var media = new List<Media>();
        var names = LegalName.Unique(loaded.Session.Media.Select(m => LegalName.From(Path.GetFileNameWithoutExtension(m.FileName)))).ToList();
        foreach (var (medium, name) in loaded.Session.Media.Zip(names))
        {
            stop.ThrowIfCancellationRequested();
            var file = $"{MediaFolder}/{name}{(Path.GetExtension(medium.FileName) is { Length: > 0 } extension ? extension : ".wav")}";
            if (loaded.Media.FileOf(medium) is { } sound)
            {
                WholeFile.Write(Path.Combine(folder, file), stream =>
                {
                    using var input = sound.Open();
                    input.CopyTo(stream, 1 << 17);
                });
            }

            media.Add(medium with { FileName = file });
        }

        WholeFile.Write(output, stream => stream.Write(SessionDocumentWriter.Write(loaded.Session with { Media = media.ToValueArray() })));
    }

    private static string[] WriteFolder(LoadedSession loaded, Preparation preparation, string output, PackageMaker maker, CancellationToken stop)
    {
        var plan = DeliveryPlan.Make(loaded.Session, preparation, SoundMeasures.FromFiles(loaded.Session, loaded.Media, stop));
        Directory.CreateDirectory(output);
        var zip = Path.Combine(output, $"{Guid.NewGuid():N}.part");
        try
        {
            PackageFile.Build(plan, loaded.Media, zip, maker, _ => { }, stop);
            ZipFile.ExtractToDirectory(zip, output, overwriteFiles: true);
        }
        finally
        {
            File.Delete(zip);
        }

        return [.. plan.Clips?.Notes ?? []];
    }
}
