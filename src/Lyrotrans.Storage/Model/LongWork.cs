namespace Lyrotrans.Storage.Model;

/// <summary>Work that runs behind the page: how far it is, what it does, and whether somebody asked it to stop.</summary>
public abstract class LongWork
{
    public Guid Id { get; set; }

    public WorkState State { get; set; }

    /// <summary>0 … 1.</summary>
    public double Fraction { get; set; }

    public string Doing { get; set; } = string.Empty;

    /// <summary>Why it failed, in words for the engineer.</summary>
    public string? Error { get; set; }

    /// <summary>The code of <see cref="Error"/>.</summary>
    public string? ErrorCode { get; set; }

    public bool StopAsked { get; set; }

    /// <summary>Who is at it; another who takes it on is another owner, and the first then stops.</summary>
    public Guid? Owner { get; set; }

    /// <summary>When it was last heard of: it lives while this is young.</summary>
    public DateTimeOffset? SeenAt { get; set; }

    /// <summary>How often it was begun.</summary>
    public int Attempts { get; set; }
}
