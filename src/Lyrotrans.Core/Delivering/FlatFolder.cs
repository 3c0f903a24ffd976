using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Delivering;

/// <summary>All files of a package in its one folder, as some rooms want them.</summary>
internal static class FlatFolder
{
    /// <summary>The same files without folders below the package's own; of two of one name the later one gets a number. What edit files, sheets or people look for by its name keeps it.</summary>
    public static List<PlannedFile> Of(List<PlannedFile> files, string root)
    {
        var taken = new TakenNames(SameName.Comparer);
        var paths = files.OrderBy(f => f.Path.LastIndexOf('/') == root.Length ? 0 : f.Kind is PlannedKind.ClipMedia or PlannedKind.Picture ? 1 : 2)
            .ToDictionary(f => f.Path, f => $"{root}/{taken.FreeFile(f.Path[(f.Path.LastIndexOf('/') + 1)..], '_')}");
        return [.. files.Select(f => f with { Path = paths[f.Path], Of = f.Of is null ? null : paths[f.Of] })];
    }
}
