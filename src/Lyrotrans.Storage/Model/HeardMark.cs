namespace Lyrotrans.Storage.Model;

/// <summary>What a person said of a file of a package when they listened to it.</summary>
public sealed class HeardMark
{
    /// <summary>Counts up.</summary>
    public long Id { get; set; }

    /// <summary>Which package.</summary>
    public Guid BuildId { get; set; }

    /// <summary>Which file of it, by its path.</summary>
    public required string Path { get; set; }

    /// <summary>What was said.</summary>
    public HeardKind Kind { get; set; }

    /// <summary>Where, in samples of the file; 0 where it is of all of it.</summary>
    public long Sample { get; set; }

    /// <summary>What is wrong, in the person's words; may be empty.</summary>
    public required string Words { get; set; }

    /// <summary>The name of who said it.</summary>
    public required string By { get; set; }

    /// <summary>When.</summary>
    public DateTimeOffset At { get; set; }
}
