using Lyrotrans.Core.Delivering;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Returning;

namespace Lyrotrans.Web.Keeping;

/// <summary>Landmarks of the sound of packages, by which files that come back are known in a moment. They are made once a package is built; where they were not, they are made when they are first wanted.</summary>
public sealed class PackageMarks(PackageStore packages, FileStore files)
{
    /// <summary>Makes and keeps those of a package that has none.</summary>
    /// <param name="package">The package.</param>
    /// <param name="plan">That it was built by.</param>
    /// <param name="stop">Heeded all along.</param>
    public void Make(KeptPackage package, DeliveryPlan plan, CancellationToken stop)
    {
        if (packages.Marks(package.Build) is not null)
        {
            return;
        }

        var folder = Path.Combine(files.Scratch, $"{package.Build:N}.marks");
        try
        {
            // Nobody waits for it, and somebody may for the other processors.
            Of(package.Build, SentPackage.Of(package.Files, plan, folder, stop), _ => { }, stop, threads: 1);
        }
        finally
        {
            if (Directory.Exists(folder))
            {
                Directory.Delete(folder, recursive: true);
            }
        }
    }

    /// <summary>Those of a package, as they were kept; made and kept where they were not. Null where it has no sound to be looked through.</summary>
    /// <param name="build">What made the package.</param>
    /// <param name="sent">What was sent with it.</param>
    /// <param name="report">Told how far it is, 0 to 1.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <param name="threads">At most so many at once; none for as many as there are processors.</param>
    public SentMarks? Of(Guid build, SentPackage sent, Action<double> report, CancellationToken stop, int? threads = null)
    {
        if (Kept(build) is { } kept)
        {
            return kept;
        }

        if (!SentMarks.CanBeOf(sent))
        {
            return null;
        }

        var made = SentMarks.Of(sent, report, stop, threads);
        packages.KeepMarks(build, made.Write);
        return made;
    }

    private SentMarks? Kept(Guid build)
    {
        using var stream = packages.Marks(build)?.Open();
        return stream is null ? null : SentMarks.Read(stream);
    }
}
