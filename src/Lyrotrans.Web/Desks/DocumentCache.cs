namespace Lyrotrans.Web.Desks;

/// <summary>
/// Documents as they were parsed, by SHA-256, and what was computed of them, by that and its inputs, each room's for itself: two rooms may have the same
/// document and not the same sound. They never change, so nothing here can be stale; what nobody asked for longest leaves. What several ask for at once is made once.
/// </summary>
public sealed class DocumentCache(TimeProvider clock)
{
    private const int Most = 128;
    private readonly Lock _gate = new();
    private readonly Dictionary<(Type Type, Guid Room, string Key), KeptDocument> _kept = [];
    private readonly Dictionary<(Type Type, Guid Room), int> _made = [];

    /// <summary>How often something of a type was made for a room and not only fetched; for measuring.</summary>
    public int Made<T>(Guid room)
    {
        lock (_gate)
        {
            return _made.GetValueOrDefault((typeof(T), room));
        }
    }

    /// <summary>Lets go of what nobody asked for lately: one session of millions of notes is a gigabyte. Says of how much.</summary>
    public int LetGo(TimeSpan unasked)
    {
        lock (_gate)
        {
            var old = _kept.Where(k => clock.GetUtcNow() - k.Value.Asked > unasked).Select(k => k.Key).ToList();
            old.ForEach(k => _kept.Remove(k));
            return old.Count;
        }
    }

    /// <summary>What was kept, or what is made now. An error keeps nothing: the next who asks tries again.</summary>
    public T Get<T>(Guid room, string key, Func<T> make)
        where T : class
    {
        var place = (typeof(T), room, key);
        var kept = Place(place, () => Counted(place.Item1, room, make()));
        try
        {
            return (T)kept.Value;
        }
        catch
        {
            Forget(place, kept);
            throw;
        }
    }

    private KeptDocument Place((Type Type, Guid Room, string Key) place, Func<object> make)
    {
        lock (_gate)
        {
            if (!_kept.TryGetValue(place, out var kept))
            {
                if (_kept.Count == Most)
                {
                    _kept.Remove(_kept.MinBy(k => k.Value.Asked).Key);
                }

                _kept.Add(place, kept = new KeptDocument(make));
            }

            kept.Asked = clock.GetUtcNow();
            return kept;
        }
    }

    private object Counted(Type type, Guid room, object value)
    {
        lock (_gate)
        {
            _made[(type, room)] = _made.GetValueOrDefault((type, room)) + 1;
        }

        return value;
    }

    // Another may have been placed since.
    private void Forget((Type Type, Guid Room, string Key) place, KeptDocument kept)
    {
        lock (_gate)
        {
            if (_kept.GetValueOrDefault(place) == kept)
            {
                _kept.Remove(place);
            }
        }
    }
}
