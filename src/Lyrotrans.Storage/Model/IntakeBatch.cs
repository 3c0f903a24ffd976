namespace Lyrotrans.Storage.Model;

/// <summary>Files that were dropped together.</summary>
public sealed class IntakeBatch : LongWork
{
    public Guid TransferId { get; set; }

    public DateTimeOffset At { get; set; }

    /// <summary>Account that dropped them.</summary>
    public Guid ById { get; set; }

    public List<Upload> Uploads { get; set; } = [];
}
