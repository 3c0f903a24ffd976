using Lyrotrans.Core.Storing;

namespace Lyrotrans.Storage.Store;

/// <summary>Packages, each with its proof and the levels of its sound files, by the build that made it. A package is there only with its proof.</summary>
public sealed class PackageStore(IObjectStore objects)
{
    /// <summary>Null where the build left none.</summary>
    public IStoredFile? Package(Guid build) => objects.Find(Zip(build));

    /// <summary>The proof as JSON; null where the build left none.</summary>
    public IStoredFile? Proof(Guid build) => objects.Find(ProofName(build));

    /// <summary>Null for a package of before levels were kept.</summary>
    public IStoredFile? Levels(Guid build) => objects.Find(LevelsName(build));

    /// <summary>Keeps a package with its proof and levels; the package comes last, so that it is never there without them.</summary>
    /// <param name="build">What made it.</param>
    /// <param name="zip">The finished local file, which is gone from its place then.</param>
    /// <param name="proof">As JSON.</param>
    /// <param name="levels">As they are kept.</param>
    public void Keep(Guid build, string zip, byte[] proof, byte[] levels)
    {
        objects.Put(ProofName(build), output => output.Write(proof));
        KeepLevels(build, levels);
        objects.Take(Zip(build), zip);
    }

    /// <summary>Keeps the levels of a package of before levels were kept.</summary>
    public void KeepLevels(Guid build, byte[] levels) => objects.Put(LevelsName(build), output => output.Write(levels));

    /// <summary>Leaves nothing of a build.</summary>
    public void Remove(Guid build)
    {
        foreach (var name in new[] { Zip(build), LevelsName(build), ProofName(build) })
        {
            objects.Delete(name);
        }
    }

    private static string Zip(Guid build) => $"packages/{build:N}.zip";

    private static string ProofName(Guid build) => $"packages/{build:N}.proof.json";

    private static string LevelsName(Guid build) => $"packages/{build:N}.levels.json";
}
