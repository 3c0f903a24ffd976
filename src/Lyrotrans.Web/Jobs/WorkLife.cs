namespace Lyrotrans.Web.Jobs;

/// <summary>When work that is at it is taken for dead.</summary>
public static class WorkLife
{
    /// <summary>No beat for so long, where one comes every few seconds, means that the process is gone.</summary>
    public static readonly TimeSpan Dead = TimeSpan.FromSeconds(15);

    /// <summary>How long work may wait before it is put into the queue once more: the process may have gone before it could do so.</summary>
    public static readonly TimeSpan Forgotten = TimeSpan.FromSeconds(40);

    /// <summary>Work that ended its process so often is not begun again.</summary>
    public const int MostAttempts = 3;
}
