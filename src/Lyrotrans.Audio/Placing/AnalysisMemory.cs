namespace Lyrotrans.Audio.Placing;

/// <summary>Keeps sounds as they are analysed, those that were looked at last, up to a bound: 128 MB, which is an hour of sound.</summary>
public sealed class AnalysisMemory
{
    private const int MostSamples = 1 << 25;
    private readonly LinkedList<(SearchedSound Of, AnalysedSound Sound)> _kept = [];
    private readonly Lock _lock = new();

    internal AnalysedSound Get(SearchedSound of, Func<AnalysedSound> read)
    {
        lock (_lock)
        {
            if (_kept.FirstOrDefault(k => ReferenceEquals(k.Of, of)) is { Sound: { } known } kept)
            {
                _kept.Remove(kept);
                _kept.AddFirst(kept);
                return known;
            }
        }

        // Others go on while it is read; two that want the same both read it.
        var made = read();
        lock (_lock)
        {
            _kept.AddFirst((of, made));
            while (_kept.Count > 1 && _kept.Sum(k => (long)k.Sound.Samples.Length) > MostSamples)
            {
                _kept.RemoveLast();
            }
        }

        return made;
    }
}
