namespace Lyrotrans.Storage.Model;

/// <summary>Files that were dropped together.</summary>
public sealed class IntakeBatch
{
    public Guid Id { get; set; }

    public Guid TransferId { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>Account that dropped them.</summary>
    public Guid ById { get; set; }

    public WorkState State { get; set; }

    public double Fraction { get; set; }

    public string Doing { get; set; } = string.Empty;

    public string? Error { get; set; }

    public bool StopAsked { get; set; }

    public List<Upload> Uploads { get; set; } = [];
}
