using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Web.Keeping;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Links;

/// <summary>The files of a package as their receiver sees them: what the manifest says of each, in words.</summary>
public static class ReceivedFiles
{
    private static readonly HashSet<string> s_sound = new(StringComparer.OrdinalIgnoreCase) { ".wav", ".aif", ".flac", ".ogg", ".mp3" };

    /// <summary>In the order in which they lie in the package.</summary>
    /// <param name="package">With its manifest.</param>
    /// <param name="plan">What it was built by, for names of tracks and rates.</param>
    public static IReadOnlyList<ReceivedFile> Of(KeptPackage package, DeliveryPlan plan)
    {
        var said = package.Manifest.Files.ToDictionary(f => f.Plan.Path, f => f.Plan);
        var planned = plan.Files.ToDictionary(f => f.Path);
        var names = plan.Session.Tracks.ToDictionary(t => t.Id, t => t.Name);
        return [.. package.Files.Select((file, i) => Made(file, i, said.GetValueOrDefault(file.Path), planned.GetValueOrDefault(file.Path)))];

        ReceivedFile Made(KeptFile file, int number, PlannedFile? stated, PlannedFile? plan) => new(
            number, file.Path[package.Folder.Length..], Words(stated, plan, names, file.Path), stated?.Channels ?? 0, stated?.Frames ?? 0, stated?.Frames > 0 ? plan?.Form?.Rate : null, file);
    }

    /// <summary>Whether a file is one that can be listened to.</summary>
    public static bool IsSound(KeptFile file) => s_sound.Contains(Path.GetExtension(file.Path));

    /// <summary>The file that says best how it should sound: the guide mix, else the finished mix; null where there is neither. A lossy copy of it begins sooner.</summary>
    public static ReceivedFile? ToHear(IReadOnlyList<ReceivedFile> files, DeliveryPlan plan)
    {
        var mix = plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.GuideMix) ?? plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.FinishedMix);
        var copy = plan.Files.FirstOrDefault(f => f.Kind == PlannedKind.ListeningCopy && f.Of == mix?.Path);
        return mix is null ? null : files.FirstOrDefault(f => f.File.Path == (copy ?? mix).Path) ?? files.FirstOrDefault(f => f.File.Path == mix.Path);
    }

    private static string Words(PlannedFile? stated, PlannedFile? plan, Dictionary<string, string> names, string path) => stated?.Kind switch
    {
        PlannedKind.FromZero => Track(stated, names, "track"),
        PlannedKind.Stem => $"stem{(plan?.Group is { } group ? $" of {group}" : string.Empty)}",
        PlannedKind.GuideMix => "guide mix",
        PlannedKind.FinishedMix => "finished mix",
        PlannedKind.Click => "click",
        PlannedKind.ListeningCopy => "copy to listen to",
        PlannedKind.SameSound => "the same sound in another format",
        PlannedKind.ClipFile => "clips",
        PlannedKind.ClipMedia => "sound of clips",
        PlannedKind.Midi when stated.PartId is not null => Track(stated, names, "notes"),
        PlannedKind.Midi => "tempo, meters, markers, notes",
        PlannedKind.Picture => "picture",
        PlannedKind.SessionDocument => "record of the session",
        PlannedKind.MarkerList => "markers",
        PlannedKind.LevelTable => "table of levels",
        PlannedKind.SettingsTable => "settings to set up by",
        PlannedKind.SessionSheet => "session sheet, to read",
        _ => Path.GetFileName(path) switch { "manifest.json" => "list of all files", "manifest.sig" => "signature of the list", FollowUp.ListName or FollowUp.TextName => "what this follow-up brings", FollowUp.SignatureName => "signature of that", _ => "checksums" },
    };

    private static string Track(PlannedFile file, Dictionary<string, string> names, string what) =>
        file.TrackId is { } id && names.TryGetValue(id, out var name) ? $"{what} {HiddenMarks.Shown(name)}" : what;
}
