using System.Collections.Concurrent;

namespace Lyrotrans.Web.Desks;

/// <summary>
/// Documents as they were parsed, by SHA-256, and what was computed of them, by that and its inputs, each room's for itself: two rooms may have the same
/// document and not the same sound. They never change, so nothing here can be stale; the oldest leave, and what nobody asks for any more. What several ask for at once is made once.
/// </summary>
public sealed class DocumentCache(TimeProvider clock)
{
    private const int Most = 128;
    private readonly ConcurrentDictionary<(Type Type, Guid Room, string Key), Lazy<object>> _kept = [];
    private readonly ConcurrentDictionary<(Type Type, Guid Room, string Key), DateTimeOffset> _asked = [];
    private readonly ConcurrentQueue<(Type, Guid, string)> _order = [];
    private readonly ConcurrentDictionary<(Type, Guid), int> _made = [];

    /// <summary>How often something of a type was made for a room and not only fetched; for measuring.</summary>
    public int Made<T>(Guid room) => _made.GetValueOrDefault((typeof(T), room));

    /// <summary>Lets go of what nobody asked for lately: one session of millions of notes is a gigabyte. Says of how much.</summary>
    public int LetGo(TimeSpan unasked)
    {
        var old = _asked.Where(a => clock.GetUtcNow() - a.Value > unasked).Select(a => a.Key).ToList();
        foreach (var place in old)
        {
            _kept.TryRemove(place, out var _);
            _asked.TryRemove(place, out var _);
        }

        return old.Count;
    }

    /// <summary>What was kept, or what is made now. An error keeps nothing: the next who asks tries again.</summary>
    public T Get<T>(Guid room, string key, Func<T> make)
        where T : class
    {
        var place = (typeof(T), room, key);
        _asked[place] = clock.GetUtcNow();
        var kept = _kept.GetOrAdd(place, _ => new Lazy<object>(() =>
        {
            var value = make();
            _made.AddOrUpdate((typeof(T), room), 1, (_, n) => n + 1);
            _order.Enqueue(place);
            while (_order.Count > Most && _order.TryDequeue(out var oldest))
            {
                _kept.TryRemove(oldest, out var _);
                _asked.TryRemove(oldest, out var _);
            }

            return value;
        }));
        try
        {
            return (T)kept.Value;
        }
        catch
        {
            _kept.TryRemove(KeyValuePair.Create(place, kept));
            throw;
        }
    }
}
