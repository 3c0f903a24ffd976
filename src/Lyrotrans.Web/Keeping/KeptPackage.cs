using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Web.Keeping;

/// <summary>A package that is kept as its files.</summary>
/// <param name="build">What made it.</param>
/// <param name="zip">The zip, put together while it is read.</param>
/// <param name="files">In the order in which they lie in the zip.</param>
public sealed class KeptPackage(Guid build, IStoredFile zip, IReadOnlyList<KeptFile> files)
{
    private const string ManifestName = "/manifest.json";
    private const string SheetName = "/Session_sheet.html";

    /// <summary>What made it.</summary>
    public Guid Build => build;

    /// <summary>The zip.</summary>
    public IStoredFile Zip => zip;

    /// <summary>In the order in which they lie in the zip.</summary>
    public IReadOnlyList<KeptFile> Files => files;

    /// <summary>What the package says of itself; it was proved when it was kept.</summary>
    public Manifest Manifest => field ??= ReadManifest();

    /// <summary>The list of a follow-up; null for a whole package.</summary>
    public FollowUp? FollowUp => field ??= files.FirstOrDefault(f => Path.GetFileName(f.Path) == Workflow.Following.FollowUp.ListName) is { } list ? Workflow.Following.FollowUp.FromJson(Bytes(list), list.Path) : null;

    /// <summary>The sheet that a person reads.</summary>
    public KeptFile? Sheet => files.FirstOrDefault(f => f.Path.EndsWith(SheetName, StringComparison.Ordinal));

    /// <summary>The folder that everything lies in, with a <c>/</c> at its end.</summary>
    public string Folder => files[0].Path[..(files[0].Path.IndexOf('/', StringComparison.Ordinal) + 1)];

    /// <summary>A file by its path.</summary>
    public KeptFile? this[string path] => files.FirstOrDefault(f => f.Path == path);

    private Manifest ReadManifest() => Manifest.FromJson(Bytes(files.Single(f => f.Path.EndsWith(ManifestName, StringComparison.Ordinal))), "manifest.json");

    private static byte[] Bytes(KeptFile file)
    {
        using var stream = file.File.Open();
        using var bytes = new MemoryStream();
        stream.CopyTo(bytes);
        return bytes.ToArray();
    }
}
