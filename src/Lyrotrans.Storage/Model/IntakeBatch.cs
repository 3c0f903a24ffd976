namespace Lyrotrans.Storage.Model;

/// <summary>Files that were dropped together.</summary>
public sealed class IntakeBatch : LongWork
{
    /// <summary>Where the files come in.</summary>
    public Guid TransferId { get; set; }

    /// <summary>When the first of them was dropped.</summary>
    public DateTimeOffset At { get; set; }

    /// <summary>Account that dropped them.</summary>
    public Guid ById { get; set; }

    /// <summary>Where some of its files lie, as JSON; null where each comes to its place by itself.</summary>
    public string? Places { get; set; }

    /// <summary>The files, in the order in which they were announced.</summary>
    public List<Upload> Uploads { get; set; } = [];
}
