using Lyrotrans.Core.Single;
using Lyrotrans.Files;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Delivering;

/// <summary>One thing of a session as a file: built and proved as a package is, and what did not pass is not given out. It goes when this is closed.</summary>
public sealed class OneThingFile : IDisposable
{
    private readonly ProvedPackage _package;
    private readonly Func<Stream> _open;

    private OneThingFile(ProvedPackage package, string name, Func<Stream> open) => (_package, Name, _open) = (package, name, open);

    /// <summary>What it is called, without a folder.</summary>
    public string Name { get; }

    /// <summary>Reads it from the beginning.</summary>
    public Stream Open() => _open();

    /// <param name="thing">What to make.</param>
    /// <param name="media">The session's media, with the scratch folder.</param>
    /// <param name="maker">The date of its files, and who signs.</param>
    /// <param name="known">The room's keys, and what each is called.</param>
    /// <param name="stop">Stops between blocks; nothing is left then.</param>
    /// <exception cref="IOException">There is no room for it, it cannot be written, or it did not pass its proof.</exception>
    /// <exception cref="Core.Errors.BadInputException">A medium cannot be read.</exception>
    public static OneThingFile Make(OneThingPlan thing, IMediaFiles media, PackageMaker maker, IReadOnlyDictionary<PublicKey, string> known, CancellationToken stop)
    {
        var package = ProvedPackage.Make(thing.Plan, media, maker, known, _ => { }, stop);
        try
        {
            if (!package.Report.Passed)
            {
                throw new IOException($"It was made and did not pass its proof, so it is not given out: {package.Report.Verdict}");
            }

            if (thing.File is not { } file)
            {
                return new OneThingFile(package, package.FileName, () => package.Package.Zip(media.Scratch).Open());
            }

            var place = package.Package.Places[package.Package.Contents.Sha256Of(file.Path)];
            return new OneThingFile(package, file.Path[(file.Path.LastIndexOf('/') + 1)..], () => new DiskFile(place).Open());
        }
        catch
        {
            package.Dispose();
            throw;
        }
    }

    public void Dispose() => _package.Dispose();
}
