namespace Lyrotrans.Storage.Model;

/// <summary>What files that came back by a link are of, by their sound.</summary>
public sealed class ReturnCheck : LongWork
{
    /// <summary>By which link they came.</summary>
    public Guid LinkId { get; set; }

    /// <summary>When it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>The engineer who asked.</summary>
    public string By { get; set; } = string.Empty;

    /// <summary>The report as JSON; null until they were looked at.</summary>
    public string? Report { get; set; }
}
