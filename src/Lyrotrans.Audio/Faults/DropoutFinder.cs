using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Faults;

/// <summary>
/// Finds dropouts of one channel as its samples go by: samples that stand still while the sound on both sides moves. What stands still at its highest or lowest is clipped or made that way, and
/// where a sound does so again and again it is its nature.
/// </summary>
internal sealed class DropoutFinder
{
    private const int Beside = 960;
    private const int ShortestRun = 12;
    private const int Before = Beside + ShortestRun;

    // So many within a second on either side are how the sound is made.
    private const int NaturalFlats = 3;
    private const int NaturalRuns = 9;

    // What moves by less than two steps of 16 bits, or is quieter than −60 dBFS, may well stand still.
    private const double LeastMove = 6e-5;
    private const double LeastLevel = 1e-3;

    // How far it moves on average against its smallest move: of coarse samples that is much the same, and they stand still often.
    private const double LeastFineness = 4;
    private const double Jump = 4;
    private const double Abrupt = 0.15;
    private readonly int _channel;
    private readonly long _second;
    private readonly long _longest;
    private readonly double[] _line = new double[Before + ClickFinder.Stretch + Beside];
    private readonly List<(long Start, long Length, bool Flat)> _runs = [];
    private long _taken = -ClickFinder.Stretch;
    private Movement _movement;
    private double _last;
    private long _run = 1;

    /// <param name="channel">Which, from 0.</param>
    /// <param name="rate">For how long one lasts at most.</param>
    public DropoutFinder(int channel, SampleRate rate)
    {
        (_channel, _second) = (channel, (long)rate.PerSecond.ToDouble());
        _longest = _second / 4;
    }

    /// <summary>Takes the next <see cref="ClickFinder.Stretch"/> samples; the last ones with silence behind them.</summary>
    public void Take(ReadOnlySpan<double> samples)
    {
        samples[..Beside].CopyTo(_line.AsSpan(Before + ClickFinder.Stretch));
        Look();
        _line.AsSpan(ClickFinder.Stretch, Before).CopyTo(_line);
        samples.CopyTo(_line.AsSpan(Before));
        _taken += ClickFinder.Stretch;
    }

    /// <summary>Ends the sound, and says what was found, ascending.</summary>
    public IEnumerable<SoundFault> Result()
    {
        _line.AsSpan(Before + ClickFinder.Stretch).Clear();
        Look();
        return Unnatural().Select(r => new SoundFault(SoundFaultKind.Dropout, _channel, r.Start, r.Length));
    }

    // Runs ascend, so those within a second of one are a window that moves on with it: a file can hold millions.
    private IEnumerable<(long Start, long Length, bool Flat)> Unnatural()
    {
        var (from, to, flats) = (0, 0, 0);
        foreach (var run in _runs)
        {
            for (; to < _runs.Count && _runs[to].Start < run.Start + _second; to++)
            {
                flats += _runs[to].Flat ? 1 : 0;
            }

            for (; _runs[from].Start <= run.Start - _second; from++)
            {
                flats -= _runs[from].Flat ? 1 : 0;
            }

            if (!run.Flat && flats < NaturalFlats && to - from < NaturalRuns)
            {
                yield return run;
            }
        }
    }

    private void Look()
    {
        for (var i = Before; i < Before + ClickFinder.Stretch; i++)
        {
            if (_line[i] == _line[i - 1])
            {
                _run++;
                if (_run == ShortestRun)
                {
                    var start = i - ShortestRun + 1;
                    (_movement, _last) = (Movement.Of(_line.AsSpan(start - Beside, Beside), breaksOff: true), _line[start - 1]);
                }
            }
            else
            {
                if (_run >= ShortestRun && _run <= _longest)
                {
                    End(i);
                }

                _run = 1;
            }
        }
    }

    private void End(int next)
    {
        var after = Movement.Of(_line.AsSpan(next, Beside), breaksOff: false);
        if (!IsSound(_movement) || !IsSound(after) || !IsAbrupt(_movement) || !IsAbrupt(after))
        {
            return;
        }

        // What is flat on top has nothing near that is higher, and goes on as it came; what was held while the sound went on ends with a jump.
        var value = _line[next - 1];
        var top = _last < value && value >= Math.Max(_movement.High, after.High);
        var bottom = _last > value && value <= Math.Min(_movement.Low, after.Low);
        var flat = value != 0 && (top || bottom) && Math.Abs(_line[next] - value) <= Jump * Math.Max(_movement.Mean, after.Mean);
        _runs.Add((_taken + next - Before - _run, _run, flat));
    }

    // What was faded out, and in again, is a pause.
    private static bool IsAbrupt(Movement movement) => movement.AtEdge >= Abrupt * movement.Level;

    private static bool IsSound(Movement movement) => movement.Level >= LeastLevel && movement.Mean >= Math.Max(LeastMove, LeastFineness * movement.Least);
}
