namespace Lyrotrans.Storage.Model;

/// <summary>A package that is put into a folder of the server, and read back there.</summary>
public sealed class FolderDelivery : LongWork
{
    /// <summary>Which package.</summary>
    public Guid BuildId { get; set; }

    /// <summary>The operator's name of the folder.</summary>
    public required string Place { get; set; }

    /// <summary>The folder's folder that is this receiver's; empty for the folder itself.</summary>
    public required string Within { get; set; }

    /// <summary>What lies there then: a folder, or a zip.</summary>
    public required string Name { get; set; }

    /// <summary>Whether it is a zip.</summary>
    public bool IsZip { get; set; }

    /// <summary>The name of who began it.</summary>
    public required string By { get; set; }

    /// <summary>When it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Whether it lies at its place, whole, as far as anyone looked; kept when it was put there.</summary>
    public bool IsThere { get; set; }

    /// <summary>When it was last read back.</summary>
    public DateTimeOffset? CheckedAt { get; set; }

    /// <summary>What was found then, in words.</summary>
    public string Found { get; set; } = string.Empty;
}
