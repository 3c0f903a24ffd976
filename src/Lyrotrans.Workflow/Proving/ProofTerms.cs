using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>What a package is proved against, where that is not all that a room here knows of it.</summary>
public sealed record ProofTerms
{
    /// <summary>A room's own: its session, its preparation, and the zip as it was written.</summary>
    public static ProofTerms Own { get; } = new();

    /// <summary>The preparation was taken from the package's own manifest.</summary>
    public bool PreparationOfPackage { get; init; }

    /// <summary>Which file each part of the session came from was taken from the package's own document: the session was read another way than when it was built.</summary>
    public bool ProvenanceOfPackage { get; init; }

    /// <summary>Its files lay in a folder; there are no records of a zip.</summary>
    public bool Unpacked { get; init; }

    /// <summary>Keys that are known here, and whose each is, in words.</summary>
    public IReadOnlyDictionary<PublicKey, string> Known { get; init; } = new Dictionary<PublicKey, string>();

    /// <summary>Whether it was made here and now: then it must be signed by one of these keys, and be in the form that is written now.</summary>
    public bool MadeHere { get; init; }

    /// <summary>Names of what may go without its sound, besides those of the preparation.</summary>
    public IReadOnlyCollection<string> Accepted { get; init; } = [];

    /// <summary>What is the package's own word, for the verdict.</summary>
    public IReadOnlyList<string> OwnWords => [.. PreparationOfPackage ? ["preparation"] : Array.Empty<string>(), .. ProvenanceOfPackage ? ["provenance"] : Array.Empty<string>()];
}
