namespace Lyrotrans.Storage.Model;

/// <summary>What a receiver exported again after bringing a package in, held to what was sent.</summary>
public sealed class ArrivalCheck : LongWork
{
    /// <summary>By which link.</summary>
    public Guid LinkId { get; set; }

    /// <summary>When it was begun.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>What was dropped, in words.</summary>
    public string What { get; set; } = string.Empty;

    /// <summary>Whether nothing differs; null until it was compared.</summary>
    public bool? IsSame { get; set; }

    /// <summary>The report as JSON; null until it was compared.</summary>
    public string? Report { get; set; }
}
