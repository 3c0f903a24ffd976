using System.Threading.RateLimiting;
using Lyrotrans.Web.Doors;

namespace Lyrotrans.Web.Links;

/// <summary>How many links that open nothing may be tried from one place in a minute. One that opens something is never refused for others that do not.</summary>
public sealed class WrongLinks : IDisposable
{
    private const int Most = 30;

    private readonly PartitionedRateLimiter<HttpContext> _limiter = PartitionedRateLimiter.Create<HttpContext, string>(context =>
        RateLimitPartition.GetFixedWindowLimiter(DoorServices.Neighbourhood(context.Connection.RemoteIpAddress), _ => new FixedWindowRateLimiterOptions { PermitLimit = Most, Window = TimeSpan.FromMinutes(1) }));

    /// <summary>Counts one; false where too many were tried.</summary>
    public bool MayOnce(HttpContext context)
    {
        using var lease = _limiter.AttemptAcquire(context);
        return lease.IsAcquired;
    }

    /// <inheritdoc/>
    public void Dispose() => _limiter.Dispose();
}
