namespace Lyrotrans.Storage.Model;

/// <summary>That somebody began to fetch a package by a link. What they fetch within its time, in however many pieces, is this one claim.</summary>
public sealed class LinkClaim
{
    /// <summary>How long it holds.</summary>
    public static readonly TimeSpan Holds = TimeSpan.FromHours(24);

    /// <summary>Counts up.</summary>
    public long Id { get; set; }

    /// <summary>By which link.</summary>
    public Guid LinkId { get; set; }

    /// <summary>Who: a hash of what their browser keeps, or of where they ask from if it keeps nothing.</summary>
    public required string Claimant { get; set; }

    /// <summary>When it began.</summary>
    public DateTimeOffset At { get; set; }
}
