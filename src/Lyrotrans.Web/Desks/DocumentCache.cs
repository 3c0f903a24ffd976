using System.Collections.Concurrent;

namespace Lyrotrans.Web.Desks;

/// <summary>Documents as they were parsed, by SHA-256. They never change, so nothing here can be stale; the oldest leave.</summary>
public sealed class DocumentCache
{
    private const int Most = 64;
    private readonly ConcurrentDictionary<(Type Type, string Sha256), object> _parsed = [];
    private readonly ConcurrentQueue<(Type, string)> _order = [];

    public T Get<T>(string sha256, Func<T> parse)
        where T : class
    {
        var key = (typeof(T), sha256);
        if (_parsed.TryGetValue(key, out var known))
        {
            return (T)known;
        }

        var value = parse();
        if (_parsed.TryAdd(key, value))
        {
            _order.Enqueue(key);
            while (_order.Count > Most && _order.TryDequeue(out var oldest))
            {
                _parsed.TryRemove(oldest, out _);
            }
        }

        return value;
    }
}
