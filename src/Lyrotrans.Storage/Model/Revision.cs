namespace Lyrotrans.Storage.Model;

/// <summary>A state of a transfer that can always be opened again; its documents lie in the media store.</summary>
public sealed class Revision
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>Whose state it is.</summary>
    public Guid TransferId { get; set; }

    /// <summary>1, 2, 3 … in the order of making.</summary>
    public int Number { get; set; }

    /// <summary>Number of the revision that it was made from; 0 is the empty beginning.</summary>
    public int Parent { get; set; }

    /// <summary>What changed, in words.</summary>
    public required string Words { get; set; }

    /// <summary>What engineers call it; empty where nobody named it.</summary>
    public string Name { get; set; } = string.Empty;

    /// <summary>The name of who made it.</summary>
    public required string By { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The hash of its intake document.</summary>
    public required string IntakeSha { get; set; }

    /// <summary>The hash of its session document.</summary>
    public required string SessionSha { get; set; }

    /// <summary>The hash of its document of receivers; the preparation alone, where it was made before a transfer had several.</summary>
    public required string ReceiversSha { get; set; }
}
