namespace Lyrotrans.Storage.Model;

/// <summary>That a person works in a room. What the room has, its members see; nobody else does.</summary>
public sealed class Membership
{
    public Guid RoomId { get; set; }

    public Guid AccountId { get; set; }

    public DateTimeOffset Since { get; set; }
}
