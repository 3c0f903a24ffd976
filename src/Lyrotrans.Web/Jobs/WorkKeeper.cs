namespace Lyrotrans.Web.Jobs;

/// <summary>Looks every few seconds for work whose process is gone.</summary>
public sealed class WorkKeeper(IServiceScopeFactory scopes, ILogger<WorkKeeper> log) : Rounds(TimeSpan.FromSeconds(10), "Lost work could not be looked for", scopes, log)
{
    protected override Task RoundAsync(IServiceProvider services, CancellationToken stop) => services.GetRequiredService<WorkBook>().FindAsync(stop);
}
