namespace Lyrotrans.Storage.Model;

/// <summary>A step that brought older data up to date and that the database alone could not take: it is taken once.</summary>
public sealed class DataStep
{
    /// <summary>Which step it was.</summary>
    public required string Name { get; set; }

    /// <summary>When it ended.</summary>
    public DateTimeOffset At { get; set; }
}
