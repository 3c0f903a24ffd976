namespace Lyrotrans.Storage.Model;

/// <summary>A package that was read back as its receiver would read it, before it went.</summary>
public sealed class RehearsalRun : LongWork
{
    /// <summary>Which package.</summary>
    public Guid BuildId { get; set; }

    /// <summary>When it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The engineer who asked.</summary>
    public string By { get; set; } = string.Empty;

    /// <summary>How it is read, as JSON.</summary>
    public string Limits { get; set; } = string.Empty;

    /// <summary>Whether nothing would be another; null until it was read.</summary>
    public bool? IsSame { get; set; }

    /// <summary>The report as JSON; null until it was read.</summary>
    public string? Report { get; set; }
}
