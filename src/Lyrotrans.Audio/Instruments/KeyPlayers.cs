using System.Collections.Concurrent;

namespace Lyrotrans.Audio.Instruments;

/// <summary>Players that wait for their next track: loading the sound set anew takes longer than playing a few keys. Each key begins from a reset, so none hears what was played before.</summary>
internal static class KeyPlayers
{
    // As many tracks as play at once in a large session; what is beyond is closed.
    private const int Most = 24;
    private static readonly ConcurrentDictionary<double, ConcurrentBag<KeyPlayer>> s_waiting = [];

    /// <param name="hz">Samples a second.</param>
    public static KeyPlayer Take(double hz) => s_waiting.TryGetValue(hz, out var waiting) && waiting.TryTake(out var player) ? player : new KeyPlayer(hz);

    public static void Give(KeyPlayer player)
    {
        var waiting = s_waiting.GetOrAdd(player.Hz, _ => []);
        if (waiting.Count < Most)
        {
            waiting.Add(player);
        }
        else
        {
            player.Dispose();
        }
    }
}
