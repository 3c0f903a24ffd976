using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Peaks;

/// <summary>Measures a file's sound as its samples go by, block after block.</summary>
public sealed class SoundMeter(int channels)
{
    /// <summary>What is no louder is no sound: −120 dBFS.</summary>
    public const double Silence = 1e-6;

    private const double FullScale = 1 - (1.0 / 32768);
    private const int ClippedRun = 3;
    private readonly int[] _run = new int[channels];
    private long _first = -1;
    private long _end;
    private long _at;
    private double _peak;
    private bool _equal = channels > 1;
    private int _runs;

    public void Take(double[][] planar, int count)
    {
        for (var c = 0; c < channels; c++)
        {
            var samples = planar[c].AsSpan(0, count);
            _equal = _equal && (c == 0 || samples.SequenceEqual(planar[0].AsSpan(0, count)));
            for (var i = 0; i < count; i++)
            {
                var magnitude = Math.Abs(samples[i]);
                if (magnitude > Silence)
                {
                    _first = _first < 0 ? _at + i : Math.Min(_first, _at + i);
                    _end = Math.Max(_end, _at + i + 1);
                    _peak = Math.Max(_peak, magnitude);
                }

                _run[c] = magnitude >= FullScale ? _run[c] + 1 : 0;
                _runs += _run[c] == ClippedRun ? 1 : 0;
            }
        }

        _at += count;
    }

    public MediaSound Result(long length) => new(_first < 0 ? length : _first, _end, _peak, _equal && _end > 0, _runs);
}
