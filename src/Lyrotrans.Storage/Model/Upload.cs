namespace Lyrotrans.Storage.Model;

/// <summary>A file on its way in; can be resumed at its offset.</summary>
public sealed class Upload
{
    public Guid Id { get; set; }

    public Guid BatchId { get; set; }

    public IntakeBatch? Batch { get; set; }

    public required string Name { get; set; }

    public long Length { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>Of its bytes, kept just before the file moves into the store: an intake that is taken up again finds it there.</summary>
    public string? Sha256 { get; set; }
}
