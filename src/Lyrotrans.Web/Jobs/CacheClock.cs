using Lyrotrans.Web.Desks;

namespace Lyrotrans.Web.Jobs;

/// <summary>Gives memory back that large sessions took, once nobody looks at them.</summary>
public sealed class CacheClock(DocumentCache cache, IServiceScopeFactory scopes, ILogger<CacheClock> log) : Rounds(TimeSpan.FromMinutes(1), "Unused documents could not be let go of", scopes, log)
{
    /// <summary>What was not asked for so long is read again by whoever asks.</summary>
    public static readonly TimeSpan Unasked = TimeSpan.FromMinutes(5);

    protected override Task RoundAsync(IServiceProvider services, CancellationToken stop)
    {
        if (cache.LetGo(Unasked) > 0)
        {
            // The runtime keeps what it has for the next time, unless it is told that there is none.
            GC.Collect(GC.MaxGeneration, GCCollectionMode.Aggressive);
        }

        return Task.CompletedTask;
    }
}
