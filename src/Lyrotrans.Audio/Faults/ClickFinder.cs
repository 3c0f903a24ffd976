using System.Numerics.Tensors;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Faults;

/// <summary>Finds clicks of one channel as its samples go by: where it does not go on as it went, for a few samples and far more than anywhere near.</summary>
internal sealed class ClickFinder
{
    /// <summary>Samples taken at a time.</summary>
    public const int Stretch = 4096;

    private const int Cell = 32;
    private const int Cells = Stretch / Cell;
    private const int NearsInASecond = 200;

    // −60 dBFS, and far enough above everything near; further where the level changes by more than twice, and never where it changes by thirty times.
    private const double LeastJump = 1e-3;
    private const double LeastBeside = 6;
    private const double LeastAtOnset = 18;
    private const double Onset = 2;
    private const double Beginning = 30;

    // What is further below the level around it is not heard.
    private const double LeastBesideLevel = 0.05;

    // So many within a second on either side are how the sound is made.
    private const int Natural = 12;
    private readonly int _channel;
    private readonly int _reach;
    private readonly long _second;
    private readonly LinearPrediction _prediction = new(Stretch);
    private readonly double[] _samples = new double[LinearPrediction.Order + Stretch];
    private readonly double[] _residual = new double[Stretch];
    private readonly double[] _jumps = new double[3 * Cells];
    private readonly double[] _energies = new double[3 * Cells];
    private readonly bool[] _clips = new bool[3 * Cells];
    private readonly int[] _places = new int[3 * Cells];
    private readonly List<SoundFault> _found = [];
    private long _cells = -Cells;

    /// <param name="channel">Which, from 0.</param>
    /// <param name="rate">For what is near.</param>
    public ClickFinder(int channel, SampleRate rate)
    {
        (_channel, _second) = (channel, (long)rate.PerSecond.ToDouble());
        _reach = (int)Math.Clamp(_second / NearsInASecond / Cell, 4, Cells - 2);
    }

    /// <summary>Takes the next <see cref="Stretch"/> samples; the last ones with silence behind them.</summary>
    public void Take(ReadOnlySpan<double> samples)
    {
        _samples.AsSpan(Stretch).CopyTo(_samples);
        samples.CopyTo(_samples.AsSpan(LinearPrediction.Order));
        _prediction.Residual(_samples, _residual);
        for (var i = 0; i < Cells; i++)
        {
            var cell = _residual.AsSpan(i * Cell, Cell);
            var place = TensorPrimitives.IndexOfMaxMagnitude<double>(cell);
            _jumps[(2 * Cells) + i] = Math.Abs(cell[place]);
            _places[(2 * Cells) + i] = FirstAbove(cell, Math.Abs(cell[place]) / 2);
            _energies[(2 * Cells) + i] = TensorPrimitives.SumOfSquares<double>(samples.Slice(i * Cell, Cell));
            _clips[(2 * Cells) + i] = StandsAtFullScale(samples.Slice(i * Cell, Cell));
        }

        Look();
        MoveOn();
    }

    /// <summary>Ends the sound, and says what was found, ascending.</summary>
    public IReadOnlyList<SoundFault> Result()
    {
        Array.Clear(_jumps, 2 * Cells, Cells);
        Array.Clear(_energies, 2 * Cells, Cells);
        Array.Clear(_clips, 2 * Cells, Cells);
        Look();

        // What comes again and again is how the sound is made.
        return [.. _found.Where((f, i) => _found.Skip(Math.Max(0, i - Natural)).Take((2 * Natural) + 1).Count(o => Math.Abs(o.Sample - f.Sample) < _second) < Natural)];
    }

    // Of the stretch in the middle, with one before and one after it.
    private void Look()
    {
        for (var i = Cells; i < 2 * Cells; i++)
        {
            if (_jumps[i] >= LeastJump && _jumps[i] >= _jumps[i - 1] && _jumps[i] > _jumps[i + 1] && !_clips.AsSpan(i - 2, 5).Contains(true) && StandsAlone(i))
            {
                _found.Add(new SoundFault(SoundFaultKind.Click, _channel, ((_cells + i - Cells) * Cell) + _places[i], 1));
            }
        }
    }

    private bool StandsAlone(int at)
    {
        var (before, after) = (at - 1 - _reach, at + 2);
        var beside = Math.Max(TensorPrimitives.Max<double>(_jumps.AsSpan(before, _reach)), TensorPrimitives.Max<double>(_jumps.AsSpan(after, _reach)));
        if (_jumps[at] < LeastBeside * beside)
        {
            return false;
        }

        // What is far below the sound around it is not heard; something that begins or ends there, as a drum does, may do so with a jump, and out of nothing it always does.
        var (was, becomes) = (Level(before), Level(after));
        var (low, high) = (Math.Min(was, becomes), Math.Max(was, becomes));
        return _jumps[at] >= LeastBesideLevel * high && high < low * Beginning && (high <= low * Onset || _jumps[at] >= LeastAtOnset * beside);
    }

    // What was foretold from a wrong sample is wrong too, sometimes by more.
    private static int FirstAbove(ReadOnlySpan<double> cell, double bound)
    {
        for (var i = 0; i < cell.Length; i++)
        {
            if (Math.Abs(cell[i]) > bound)
            {
                return i;
            }
        }

        return 0;
    }

    // The corners of what was cut off at full scale are no clicks of their own.
    private static bool StandsAtFullScale(ReadOnlySpan<double> samples)
    {
        if (Extremes.Of(samples).Magnitude < SoundMeter.FullScale)
        {
            return false;
        }

        var run = 0;
        foreach (var sample in samples)
        {
            run = Math.Abs(sample) >= SoundMeter.FullScale ? run + 1 : 0;
            if (run >= SoundMeter.ClippedRun)
            {
                return true;
            }
        }

        return false;
    }

    private double Level(int from) => Math.Sqrt(TensorPrimitives.Sum<double>(_energies.AsSpan(from, _reach)) / (_reach * Cell));

    private void MoveOn()
    {
        _jumps.AsSpan(Cells).CopyTo(_jumps);
        _energies.AsSpan(Cells).CopyTo(_energies);
        _places.AsSpan(Cells).CopyTo(_places);
        _clips.AsSpan(Cells).CopyTo(_clips);
        _cells += Cells;
    }
}
