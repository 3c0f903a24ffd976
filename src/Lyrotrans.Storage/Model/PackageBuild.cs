namespace Lyrotrans.Storage.Model;

/// <summary>A build of a revision, and the proof that follows it.</summary>
public sealed class PackageBuild : LongWork
{
    public Guid TransferId { get; set; }

    public int Revision { get; set; }

    public required string By { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>File name for the download.</summary>
    public string? FileName { get; set; }

    public long Bytes { get; set; }

    public string? Sha256 { get; set; }

    public DateTimeOffset? FinishedAt { get; set; }

    /// <summary>The proof's one line; null until it ran.</summary>
    public string? Verdict { get; set; }

    public bool Passed { get; set; }
}
