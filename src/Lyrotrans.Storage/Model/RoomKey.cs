namespace Lyrotrans.Storage.Model;

/// <summary>A key that a room signs its packages with. One is in use; earlier ones stay, so that what they signed is still known.</summary>
public sealed class RoomKey
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>Whose it is.</summary>
    public Guid RoomId { get; set; }

    /// <summary>The public half: Ed25519, 32 bytes.</summary>
    public required byte[] Public { get; set; }

    /// <summary>The secret half, under the program's own protection; empty once it is retired.</summary>
    public required string Secret { get; set; }

    /// <summary>When it was made.</summary>
    public DateTimeOffset Since { get; set; }

    /// <summary>When another took its place; null for the one in use.</summary>
    public DateTimeOffset? Retired { get; set; }
}
