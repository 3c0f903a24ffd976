namespace Lyrotrans.Storage.Model;

/// <summary>A state of a transfer that can always be opened again; its documents lie in the media store.</summary>
public sealed class Revision
{
    public Guid Id { get; set; }

    public Guid TransferId { get; set; }

    /// <summary>1, 2, 3 … in the order of making.</summary>
    public int Number { get; set; }

    /// <summary>Number of the revision that it was made from; 0 is the empty beginning.</summary>
    public int Parent { get; set; }

    /// <summary>What changed, in words.</summary>
    public required string Words { get; set; }

    public required string By { get; set; }

    public DateTimeOffset At { get; set; }

    public required string IntakeSha { get; set; }

    public required string SessionSha { get; set; }

    public required string PreparationSha { get; set; }
}
