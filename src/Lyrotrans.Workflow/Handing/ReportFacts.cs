using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Handing;

/// <summary>What a report of a handover says.</summary>
public sealed record ReportFacts
{
    /// <summary>Who sends.</summary>
    public required string Room { get; init; }

    /// <summary>Who gets it; may be empty.</summary>
    public required string Receiver { get; init; }

    /// <summary>The package by its file name.</summary>
    public required string Package { get; init; }

    /// <summary>The revision that it was built of.</summary>
    public required int Revision { get; init; }

    /// <summary>Who built it.</summary>
    public required string BuiltBy { get; init; }

    /// <summary>What it brings to whoever has the package before; null for a whole one.</summary>
    public FollowUp? FollowUp { get; init; }

    /// <summary>What the package says of itself.</summary>
    public required Manifest Manifest { get; init; }

    /// <summary>Every file of the package, the manifest and its signature too.</summary>
    public required IReadOnlyList<(string Path, long Bytes, string Sha256)> Files { get; init; }

    /// <summary>Of the manifest, in lower-case hex.</summary>
    public required string ManifestSha256 { get; init; }

    /// <summary>What the proof found.</summary>
    public required ProofReport Proof { get; init; }

    /// <summary>How far the package was listened to, in a sentence.</summary>
    public required string HeardWords { get; init; }

    /// <summary>What was said of each file that was listened to, the earliest first.</summary>
    public required IReadOnlyList<ReportLine> Heard { get; init; }

    /// <summary>Sound files that nobody listened to, by their paths.</summary>
    public required IReadOnlyList<string> NotHeard { get; init; }

    /// <summary>How it was handed over and what came of it, the earliest first: links, folders, receipts.</summary>
    public required IReadOnlyList<ReportLine> Happened { get; init; }

    /// <summary>Whose signature lies beside the report.</summary>
    public required PublicKey Key { get; init; }

    /// <summary>Who had it written.</summary>
    public required string WrittenBy { get; init; }

    /// <summary>When.</summary>
    public required DateTimeOffset Written { get; init; }
}
