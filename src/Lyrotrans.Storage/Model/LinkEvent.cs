namespace Lyrotrans.Storage.Model;

/// <summary>A line of what happened at a link.</summary>
public sealed class LinkEvent
{
    /// <summary>Counts up.</summary>
    public long Id { get; set; }

    /// <summary>At which link.</summary>
    public Guid LinkId { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>What kind of thing.</summary>
    public LinkEventKind Kind { get; set; }

    /// <summary>The name that the receiver typed, or the sender's; empty where nobody said.</summary>
    public required string Who { get; set; }

    /// <summary>What exactly, in words; empty where the kind says it.</summary>
    public required string What { get; set; }

    /// <summary>Where it was asked from.</summary>
    public required string Address { get; set; }
}
