namespace Lyrotrans.Storage.Model;

/// <summary>One session on its way to another room.</summary>
public sealed class Transfer
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>Whose it is.</summary>
    public Guid RoomId { get; set; }

    /// <summary>As its engineers call it.</summary>
    public required string Name { get; set; }

    /// <summary>Who gets it; may be empty.</summary>
    public string Receiver { get; set; } = string.Empty;

    /// <summary>Number of the revision in force; 0 before anything was brought in.</summary>
    public int Current { get; set; }

    /// <summary>When its state changed last.</summary>
    public DateTimeOffset ChangedAt { get; set; }

    /// <summary>All states that it had.</summary>
    public List<Revision> Revisions { get; set; } = [];
}
