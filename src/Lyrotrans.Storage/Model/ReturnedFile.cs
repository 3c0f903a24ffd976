namespace Lyrotrans.Storage.Model;

/// <summary>A file that a receiver sends back by a link. It lies apart from everything that the room has until the sender takes it.</summary>
public sealed class ReturnedFile
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>By which link.</summary>
    public Guid LinkId { get; set; }

    /// <summary>As it was announced, with the folders it came in, parted by <c>/</c>.</summary>
    public required string Name { get; set; }

    /// <summary>As announced, in bytes.</summary>
    public long Length { get; set; }

    /// <summary>When it was announced.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The comparison that it came for, which alone reads it; null for what was sent back to be kept.</summary>
    public Guid? CheckId { get; set; }

    /// <summary>How far it is.</summary>
    public ReturnState State { get; set; }
}
