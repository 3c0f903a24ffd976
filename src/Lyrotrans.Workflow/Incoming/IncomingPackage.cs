using System.Text.Json.Serialization;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Workflow.Following;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Incoming;

/// <summary>A package of this program that was brought in: what its manifest says, kept with the intake.</summary>
public sealed record IncomingPackage
{
    /// <summary>The name of the manifest, in the package's folder.</summary>
    public const string ManifestName = "manifest.json";

    private const string SignatureName = "manifest.sig";
    private const string SumsName = "SHA256SUMS";

    private Dictionary<string, IncomingFile>? _byPath;

    /// <summary>The folder that it lies in among what was brought in, with a <c>/</c> at its end; empty where it lies in none.</summary>
    public required string Folder { get; init; }

    /// <summary>SHA-256 of its manifest in lower-case hex: what it is called by.</summary>
    public required string Manifest { get; init; }

    /// <summary>The name of its session.</summary>
    public required string Session { get; init; }

    /// <summary>The date of its files, as it says itself; null where it does not.</summary>
    public DateTimeOffset? Made { get; init; }

    /// <summary>The session sample that its files begin at.</summary>
    public long RangeStart { get; init; }

    /// <summary>The timecode of that.</summary>
    public string StartTimecode { get; init; } = string.Empty;

    /// <summary>The public key that signed the manifest, in hex; null where no good signature lies beside it.</summary>
    public string? Key { get; init; }

    /// <summary>What is wrong with the signature, in words; null where nothing is.</summary>
    public string? SignatureProblem { get; init; }

    /// <summary>For a reply, the manifest of the package that it replies to; null for all else.</summary>
    public string? ReplyTo { get; init; }

    /// <summary>For a follow-up, the manifest of the package that it follows; null for a whole one.</summary>
    public string? Follows { get; init; }

    /// <summary>What it says that it goes without.</summary>
    public IReadOnlyList<string> Gaps { get; init; } = [];

    /// <summary>All that its manifest names.</summary>
    public required IReadOnlyList<IncomingFile> Files { get; init; }

    /// <summary>The key that signed it, for people; null where none did.</summary>
    [JsonIgnore]
    public string? KeyWords => Key is null ? null : new PublicKey(Convert.FromHexString(Key)).Words;

    /// <summary>What it says of a file that was brought in; null where it names none there.</summary>
    /// <param name="name">As it was brought in, with its folders.</param>
    public IncomingFile? FileOf(string name)
    {
        _byPath ??= Files.DistinctBy(f => f.Path).ToDictionary(f => f.Path);
        return name.StartsWith(Folder, StringComparison.Ordinal) ? _byPath.GetValueOrDefault(name[Folder.Length..]) : null;
    }

    /// <summary>Whether a file that was brought in only says something of the others, to be read by people or to check them.</summary>
    /// <param name="name">As it was brought in, with its folders.</param>
    public bool IsRecord(string name) => name.StartsWith(Folder, StringComparison.Ordinal)
        && (IsOwn(name[Folder.Length..]) || FileOf(name) is { Kind: PlannedKind.SessionSheet or PlannedKind.LevelTable or PlannedKind.SettingsTable });

    /// <summary>Whether it lies beside what the manifest names and belongs there.</summary>
    /// <param name="path">In its folder.</param>
    public static bool IsOwn(string path) => path is ManifestName or SignatureName or SumsName || FollowUp.OwnNames.Contains(path);

    // A dictionary is no part of what it is.
    public bool Equals(IncomingPackage? other) => other is not null && (Folder, Manifest, Key, SignatureProblem, Follows) == (other.Folder, other.Manifest, other.Key, other.SignatureProblem, other.Follows);

    public override int GetHashCode() => HashCode.Combine(Folder, Manifest);
}
