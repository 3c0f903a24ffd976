namespace Lyrotrans.Storage.Model;

/// <summary>A file on its way in; can be resumed at its offset.</summary>
public sealed class Upload
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>What it was dropped with.</summary>
    public Guid BatchId { get; set; }

    /// <summary>What it was dropped with, where it was loaded.</summary>
    public IntakeBatch? Batch { get; set; }

    /// <summary>With the folders it came in, parted by <c>/</c>.</summary>
    public required string Name { get; set; }

    /// <summary>As announced, in bytes.</summary>
    public long Length { get; set; }

    /// <summary>When it was announced.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Of its bytes, kept just before the file moves into the store: an intake that is taken up again finds it there.</summary>
    public string? Sha256 { get; set; }
}
