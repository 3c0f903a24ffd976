using System.Collections.Concurrent;

namespace Lyrotrans.Web.Desks;

/// <summary>
/// Documents as they were parsed, by SHA-256, and what was computed of them, by that and its inputs, each room's for itself: two rooms may have the same
/// document and not the same sound. They never change, so nothing here can be stale; the oldest leave.
/// </summary>
public sealed class DocumentCache
{
    private const int Most = 64;
    private readonly ConcurrentDictionary<(Type Type, Guid Room, string Key), object> _parsed = [];
    private readonly ConcurrentQueue<(Type, Guid, string)> _order = [];

    public T Get<T>(Guid room, string key, Func<T> parse)
        where T : class
    {
        var place = (typeof(T), room, key);
        if (_parsed.TryGetValue(place, out var known))
        {
            return (T)known;
        }

        var value = parse();
        if (_parsed.TryAdd(place, value))
        {
            _order.Enqueue(place);
            while (_order.Count > Most && _order.TryDequeue(out var oldest))
            {
                _parsed.TryRemove(oldest, out _);
            }
        }

        return value;
    }
}
