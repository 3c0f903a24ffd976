namespace Lyrotrans.Storage.Model;

/// <summary>A line of a room's log.</summary>
public sealed class RoomEvent
{
    /// <summary>Counts up.</summary>
    public long Id { get; set; }

    /// <summary>Whose log.</summary>
    public Guid RoomId { get; set; }

    /// <summary>When it happened.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>What kind of thing.</summary>
    public RoomEventKind Kind { get; set; }

    /// <summary>The name of whoever did it, or at whose account it was tried.</summary>
    public required string Who { get; set; }

    /// <summary>What exactly, in words; empty where the kind says it.</summary>
    public required string What { get; set; }

    /// <summary>Where it was asked from.</summary>
    public required string Address { get; set; }
}
