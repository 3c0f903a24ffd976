namespace Lyrotrans.Storage.Model;

/// <summary>Work that runs behind the page: how far it is, what it does, and whether somebody asked it to stop.</summary>
public abstract class LongWork
{
    /// <summary>Never used again.</summary>
    public Guid Id { get; set; }

    /// <summary>How far it is.</summary>
    public WorkState State { get; set; }

    /// <summary>0 … 1.</summary>
    public double Fraction { get; set; }

    /// <summary>What it is at, or what was done, in words.</summary>
    public string Doing { get; set; } = string.Empty;

    /// <summary>Why it failed, in words for the engineer.</summary>
    public string? Error { get; set; }

    /// <summary>The code of <see cref="Error"/>.</summary>
    public string? ErrorCode { get; set; }

    /// <summary>Whether somebody asked it to stop; it stays so after it did.</summary>
    public bool StopAsked { get; set; }

    /// <summary>Who is at it; another who takes it on is another owner, and the first then stops.</summary>
    public Guid? Owner { get; set; }

    /// <summary>When it was last heard of: it lives while this is young.</summary>
    public DateTimeOffset? SeenAt { get; set; }

    /// <summary>Bytes of the room's space that it will fill; they count while it is at work.</summary>
    public long Claimed { get; set; }

    /// <summary>How often it was begun.</summary>
    public int Attempts { get; set; }
}
