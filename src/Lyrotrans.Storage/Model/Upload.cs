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
}
