namespace Lyrotrans.Storage.Model;

/// <summary>That a room brought in a file itself: uploaded it, or uploaded what it was unpacked from or made of.</summary>
public sealed class RoomMedium
{
    public Guid RoomId { get; set; }

    /// <summary>Of the file's bytes, computed from them.</summary>
    public required string Sha256 { get; set; }

    public DateTimeOffset At { get; set; }
}
