namespace Lyrotrans.Storage.Model;

/// <summary>A build of a revision, and the proof that follows it.</summary>
public sealed class PackageBuild : LongWork
{
    /// <summary>The id of the receiver of transfers that have but one.</summary>
    public const string OnlyReceiver = "1";

    /// <summary>What is built.</summary>
    public Guid TransferId { get; set; }

    /// <summary>The number of the revision that it follows.</summary>
    public int Revision { get; set; }

    /// <summary>Whom of that revision's receivers it is for.</summary>
    public string ReceiverId { get; set; } = OnlyReceiver;

    /// <summary>What that one was called then.</summary>
    public string ReceiverName { get; set; } = string.Empty;

    /// <summary>The name of who began it.</summary>
    public required string By { get; set; }

    /// <summary>When it was begun; the date of the files in the package.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The package that its receiver has already, of which this one brings only what is new or changed; null for a whole package.</summary>
    public Guid? FollowsId { get; set; }

    /// <summary>File name for the download.</summary>
    public string? FileName { get; set; }

    /// <summary>Of the zip; 0 until the package is kept.</summary>
    public long Bytes { get; set; }

    /// <summary>Of the package's manifest, which has the sums of all else; in lower-case hex; null until it is kept, and for packages that were kept as one zip.</summary>
    public string? ManifestSha256 { get; set; }

    /// <summary>Of the zip, for packages that were kept as one; in lower-case hex.</summary>
    public string? Sha256 { get; set; }

    /// <summary>When the package was kept.</summary>
    public DateTimeOffset? FinishedAt { get; set; }

    /// <summary>The proof's one line; null until it ran.</summary>
    public string? Verdict { get; set; }

    /// <summary>Whether the proof found no difference.</summary>
    public bool Passed { get; set; }
}
