namespace Lyrotrans.Storage.Model;

/// <summary>One session on its way to another room.</summary>
public sealed class Transfer
{
    public Guid Id { get; set; }

    public Guid RoomId { get; set; }

    public required string Name { get; set; }

    public string Receiver { get; set; } = string.Empty;

    /// <summary>Number of the revision in force; 0 before anything was brought in.</summary>
    public int Current { get; set; }

    public DateTimeOffset ChangedAt { get; set; }

    public List<Revision> Revisions { get; set; } = [];
}
