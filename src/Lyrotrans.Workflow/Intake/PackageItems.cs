using Lyrotrans.Core.Delivering;
using Lyrotrans.Workflow.Incoming;

namespace Lyrotrans.Workflow.Intake;

/// <summary>
/// What each file of a package that was brought in is to the session. Its document says all of it and names its sounds; what says or sounds the same once more stays beside, and nothing comes in twice.
/// </summary>
internal sealed class PackageItems
{
    private readonly IReadOnlyList<IncomingPackage> _packages;
    private readonly HashSet<IncomingPackage> _told;

    public PackageItems(IntakeState state)
    {
        _packages = state.PackagesHere;
        _told = [.. state.Items.Where(i => i.IsDocument && FileOf(i) is { Kind: PlannedKind.SessionDocument } && !IsAltered(i)).Select(PackageOf).OfType<IncomingPackage>()];
    }

    /// <summary>The package that a file belongs to; null where it is in none. Of one inside the other the inner.</summary>
    public IncomingPackage? PackageOf(IntakeItem item) => _packages.Where(p => p.FileOf(item.Name) is not null).MaxBy(p => p.Folder.Length);

    /// <summary>The package of a manifest; null where it was not brought in.</summary>
    /// <param name="manifest">SHA-256 of the manifest.</param>
    public IncomingPackage? Called(string? manifest) => manifest is null ? null : _packages.FirstOrDefault(p => p.Manifest == manifest);

    /// <summary>Whether a file is other than the package that it belongs to states.</summary>
    public bool IsAltered(IntakeItem item) => FileOf(item) is { } file && file.Sha256 != item.Sha256;

    /// <summary>Why a file is no source of its own, in words; null where it is one.</summary>
    public string? Beside(IntakeItem item)
    {
        if (item.Role is not null || PackageOf(item) is not { } package)
        {
            return null;
        }

        return IsAltered(item) ? "not as it was sent: ask for it again" : !_told.Contains(package) ? null : package.FileOf(item.Name)!.Kind switch
        {
            PlannedKind.ClipFile => "its clips are in the session document",
            PlannedKind.Midi => "its notes, tempo and meters are in the session document",
            PlannedKind.MarkerList => "its markers are in the session document",
            _ => null,
        };
    }

    /// <summary>Why a sound that no track plays is no track of its own, in words; null where it is one.</summary>
    public string? Unplayed(IntakeItem item) => Beside(item) ?? (item.Role is not null || PackageOf(item) is not { } package || !_told.Contains(package) ? null : package.FileOf(item.Name) switch
    {
        { Kind: PlannedKind.Stem } => "a second set: its tracks are here one by one",
        { Kind: PlannedKind.FinishedMix } => "the finished mix, to listen to",
        { Kind: PlannedKind.ListeningCopy } => "a copy to listen to",
        { Kind: PlannedKind.SameSound } => "the same sound as another file, in another format",
        { Kind: PlannedKind.ClipMedia } => "no clip of the session document needs it",
        { IsStandIn: true } => "notes with a sound that stands for their instrument; the notes are here",
        _ => null,
    });

    /// <summary>The sound that a document's medium is in a package; null where it is not in it as it was sent.</summary>
    /// <param name="package">Which; null is none.</param>
    /// <param name="path">In its folder: a file's, or of something inside a file of clips.</param>
    /// <param name="sounds">By name.</param>
    /// <param name="all">Everything that was brought in, by name.</param>
    public IntakeItem? Find(IncomingPackage? package, string path, IReadOnlyDictionary<string, IntakeItem> sounds, IReadOnlyDictionary<string, IntakeItem> all)
    {
        if (package is null || !sounds.TryGetValue(package.Folder + path, out var sound))
        {
            return null;
        }

        // What lies inside a file is as it was sent where that is.
        var holder = package.FileOf(sound.Name) is not null ? sound : package.Files.Where(f => f.Kind == PlannedKind.ClipFile && path.StartsWith(EmbeddedMedia.FolderOf(f.Path), StringComparison.Ordinal)).Select(f => all.GetValueOrDefault(package.Folder + f.Path)).FirstOrDefault();
        return holder is not null && !IsAltered(holder) ? sound : null;
    }

    private IncomingFile? FileOf(IntakeItem item) => PackageOf(item)?.FileOf(item.Name);
}
