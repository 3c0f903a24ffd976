namespace Lyrotrans.Storage.Model;

/// <summary>That a room brought in a file itself: uploaded it, or uploaded what it was unpacked from or made of.</summary>
public sealed class RoomMedium
{
    /// <summary>Who brought it in.</summary>
    public Guid RoomId { get; set; }

    /// <summary>Of the file's bytes, computed from them.</summary>
    public required string Sha256 { get; set; }

    /// <summary>Its size; null where it was brought in before sizes were kept, until somebody asks.</summary>
    public long? Bytes { get; set; }

    /// <summary>When it was first brought in.</summary>
    public DateTimeOffset At { get; set; }
}
