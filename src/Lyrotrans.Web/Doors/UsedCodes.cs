using System.Collections.Concurrent;

namespace Lyrotrans.Web.Doors;

/// <summary>Codes of the second factor that were typed: one that somebody saw is worth nothing a second time.</summary>
public sealed class UsedCodes(TimeProvider clock)
{
    // A code is taken for two steps of 30 s on either side of its own.
    private static readonly TimeSpan s_holds = TimeSpan.FromMinutes(3);
    private readonly ConcurrentDictionary<(Guid Account, string Code), DateTimeOffset> _used = new();

    /// <summary>Whether a code was not used before; from now on it was.</summary>
    public bool TryUse(Guid account, string code)
    {
        var now = clock.GetUtcNow();
        foreach (var old in _used.Where(u => now - u.Value > s_holds))
        {
            _used.TryRemove(old);
        }

        return _used.TryAdd((account, code), now);
    }
}
