namespace Lyrotrans.Storage.Model;

/// <summary>That a person works in a room. What the room has, its members see; nobody else does.</summary>
public sealed class Membership
{
    /// <summary>The room.</summary>
    public Guid RoomId { get; set; }

    /// <summary>The person.</summary>
    public Guid AccountId { get; set; }

    /// <summary>When they joined.</summary>
    public DateTimeOffset Since { get; set; }
}
