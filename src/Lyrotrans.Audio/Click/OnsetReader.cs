namespace Lyrotrans.Audio.Click;

/// <summary>
/// Finds where sounds begin in a channel that is silent between them, knowing nothing of where they should be: an onset is the
/// first sample at or above a threshold after a stretch that stayed far below it.
/// </summary>
public sealed class OnsetReader(double threshold, int quiet)
{
    private const double Silence = 0.01;
    private readonly List<long> _onsets = [];
    private long _at;
    private long _loud = long.MinValue / 2;

    /// <summary>Frames counted from the first sample taken.</summary>
    public IReadOnlyList<long> Onsets => _onsets;

    /// <summary>Takes the next samples; full scale is 1.</summary>
    public void Take(ReadOnlySpan<double> samples)
    {
        foreach (var sample in samples)
        {
            var level = Math.Abs(sample);
            if (level >= threshold && _at - _loud >= quiet)
            {
                _onsets.Add(_at);
            }

            _loud = level > threshold * Silence ? _at : _loud;
            _at++;
        }
    }
}
