using System.Collections.Concurrent;

namespace Lyrotrans.Web.Doors;

/// <summary>
/// How often a password or a code was wrong lately, by what was typed: an address that no account has is counted as one that has, so that waiting tells nothing.
/// Kept in memory; a new start forgets it.
/// </summary>
public sealed class Tries(TimeProvider clock)
{
    /// <summary>So many wrong ones within <see cref="Window"/>, then nothing is tried.</summary>
    public const int Most = 8;

    /// <summary>How long a wrong one counts.</summary>
    public static readonly TimeSpan Window = TimeSpan.FromMinutes(5);

    private const int MostKept = 20_000;
    private readonly ConcurrentDictionary<TryOf, Queue<DateTimeOffset>> _wrong = new();

    /// <summary>Whether something may be tried for this address or account.</summary>
    public bool May(TryOf what)
    {
        if (!_wrong.TryGetValue(what, out var wrong))
        {
            return true;
        }

        lock (wrong)
        {
            Forget(wrong);
            return wrong.Count < Most;
        }
    }

    /// <summary>Notes a wrong one; true where it was the last that is tried for now.</summary>
    public bool Wrong(TryOf what)
    {
        if (_wrong.Count > MostKept)
        {
            Sweep();
        }

        var wrong = _wrong.GetOrAdd(what, _ => new Queue<DateTimeOffset>());
        lock (wrong)
        {
            Forget(wrong);
            wrong.Enqueue(clock.GetUtcNow());
            return wrong.Count == Most;
        }
    }

    /// <summary>Whether something that counts each time, right or wrong, may be done once more; counts it.</summary>
    public bool MayOnce(TryOf what)
    {
        var may = May(what);
        Wrong(what);
        return may;
    }

    /// <summary>Forgets the wrong ones: it was right.</summary>
    public void Right(TryOf what) => _wrong.TryRemove(what, out _);

    private void Forget(Queue<DateTimeOffset> wrong)
    {
        while (wrong.TryPeek(out var oldest) && clock.GetUtcNow() - oldest >= Window)
        {
            wrong.Dequeue();
        }
    }

    private void Sweep()
    {
        foreach (var (key, wrong) in _wrong)
        {
            lock (wrong)
            {
                Forget(wrong);
                if (wrong.Count == 0)
                {
                    _wrong.TryRemove(key, out _);
                }
            }
        }
    }
}
