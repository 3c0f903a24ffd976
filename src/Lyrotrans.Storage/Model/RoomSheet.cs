namespace Lyrotrans.Storage.Model;

/// <summary>A state of a receiver sheet that a room keeps; the one of the highest version of a name is in force, the others are its history.</summary>
public sealed class RoomSheet
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>Whose it is.</summary>
    public Guid RoomId { get; set; }

    /// <summary>The sheet's own name.</summary>
    public required string Name { get; set; }

    /// <summary>1, 2, 3 … of its name.</summary>
    public int Version { get; set; }

    /// <summary>The sheet; empty where it was put away with this version.</summary>
    public required string Json { get; set; }

    /// <summary>The name of who made it.</summary>
    public required string By { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }
}
