using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Relinking;

namespace Lyrotrans.Workflow.Incoming;

/// <summary>
/// What can be said of a package on the side that got it, without the session that it was made of: whether each file is as the manifest states, and who signed the manifest. It is never called proved: what was meant is not
/// known here.
/// </summary>
/// <param name="Package">Which.</param>
/// <param name="Whole">How many of its files are here as they were sent.</param>
/// <param name="Altered">Paths of files that are other than they were sent.</param>
/// <param name="Lacking">Paths of files that are not here.</param>
/// <param name="More">Paths of files in its folder that are no part of it.</param>
public sealed record IncomingCheck(IncomingPackage Package, int Whole, IReadOnlyList<string> Altered, IReadOnlyList<string> Lacking, IReadOnlyList<string> More)
{
    /// <summary>Holds a package to what was brought in.</summary>
    /// <param name="package">Which.</param>
    /// <param name="here">SHA-256 of everything that was brought in, by name; not of what was taken out of other files.</param>
    public static IncomingCheck Of(IncomingPackage package, IReadOnlyDictionary<string, string> here)
    {
        var (whole, altered, lacking) = (0, new List<string>(), new List<string>());
        foreach (var file in package.Files.DistinctBy(f => f.Path))
        {
            if (!here.TryGetValue(package.Folder + file.Path, out var found))
            {
                lacking.Add(file.Path);
            }
            else if (found != file.Sha256)
            {
                altered.Add(file.Path);
            }
            else
            {
                whole++;
            }
        }

        // What was taken out of a file of clips is that file.
        var inside = package.Files.Where(f => f.Kind == PlannedKind.ClipFile).Select(f => package.Folder + MediaNames.FolderInside(f.Path)).ToList();
        var more = here.Keys.Where(n => n.StartsWith(package.Folder, StringComparison.Ordinal) && package.FileOf(n) is null && !IncomingPackage.IsOwn(n[package.Folder.Length..]) && !inside.Exists(f => n.StartsWith(f, StringComparison.Ordinal))).Select(n => n[package.Folder.Length..]).ToList();
        return new IncomingCheck(package, whole, altered, lacking, more);
    }

    /// <summary>Whether every file is here as it was sent, and the manifest as it was signed.</summary>
    public bool IsWhole => Altered.Count == 0 && Lacking.Count == 0 && Package.SignatureProblem is null;

    /// <summary>The one line that matters.</summary>
    /// <param name="whose">Whose key signed it, where it is known.</param>
    public string Verdict(string? whose)
    {
        var wrong = new[]
        {
            Package.SignatureProblem, Altered.Count == 0 ? null : $"{Phrases.Count(Altered.Count, "file")} {(Altered.Count == 1 ? "is" : "are")} not as sent", Lacking.Count == 0 ? null : $"{Phrases.Count(Lacking.Count, "file")} {(Lacking.Count == 1 ? "is" : "are")} not here",
        }.Where(w => w is not null).ToList();
        return wrong.Count > 0 ? $"Not whole: {string.Join("; ", wrong)}."
            : whose is null ? $"Whole, signer unknown: all {Phrases.Count(Whole, "file")} are as the manifest states, and it is signed."
            : $"Whole, signed by {whose}: all {Phrases.Count(Whole, "file")} are as the manifest states.";
    }
}
