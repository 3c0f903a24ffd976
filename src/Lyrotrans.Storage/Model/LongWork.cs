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

    public bool StopAsked { get; set; }
}
