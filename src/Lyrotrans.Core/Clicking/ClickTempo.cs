using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>
/// Tempos through clicks: as few as hold every click within a sample or two. What can be one tempo is, by the number with the fewest decimals; what moves in a
/// straight line is a ramp; all else has a tempo for each beat.
/// </summary>
internal sealed class ClickTempo
{
    // A click is rounded to its sample, and bar 1 is too.
    private const double Exact = 1;

    // Of recorded clicks none lies quite right: their own unsteadiness is allowed, up to this.
    private const double MostUnsteadySeconds = 0.00025;
    private const double MostCarried = 0.5;
    private const double OfRounding = 8;
    private const int LeastForRamp = 3;
    private const int Tried = 3;
    private const int MostDecimals = 9;
    private readonly double[] _quarter;
    private readonly double[] _sample;
    private readonly double _perMinute;
    private readonly double _near;
    private readonly List<TempoPoint> _points = [];
    private readonly Rational[] _places;

    private ClickTempo(IReadOnlyList<(Rational Quarter, long Sample)> clicks, SampleRate rate)
    {
        _places = [.. clicks.Select(c => c.Quarter)];
        _quarter = [.. clicks.Select(c => c.Quarter.ToDouble())];
        _sample = [.. clicks.Select(c => (double)(c.Sample - clicks[0].Sample))];
        _perMinute = rate.SamplesIn(60).ToDouble();
        _near = Math.Clamp(Unsteadiness(), Exact, Math.Max(Exact, rate.PerSecond.ToDouble() * MostUnsteadySeconds));
    }

    /// <param name="clicks">At least two, ascending; the first is bar 1, at quarter 0.</param>
    /// <param name="rate">Of their samples.</param>
    public static TempoMap Of(IReadOnlyList<(Rational Quarter, long Sample)> clicks, SampleRate rate)
    {
        // Ramps hand their last tempo on, so a click may be missed where one ends; steps alone miss none.
        var tempo = new ClickTempo(clicks, rate);
        if (tempo.Follow(ramps: true) && new TempoMap([.. tempo._points]) is var moving && tempo.Holds(moving, rate))
        {
            return moving;
        }

        tempo.Follow(ramps: false);
        return new TempoMap([.. tempo._points]);
    }

    private bool Holds(TempoMap map, SampleRate rate) => _places.Zip(_sample).All(c => Math.Abs(rate.SamplesIn(map.SecondsAt(c.First)).ToDouble() - c.Second) <= _near + MostCarried);

    // How far a click may be off where a piece begins a little off: never more than at its beginning and a little, however many follow each other.
    private double Near(int i, double at) => _near + Math.Min(MostCarried, Math.Abs(at - _sample[i]));

    // By the middle of the fifth differences, which a tempo has none of and a ramp hardly any: four tenths of that are four times the spread of clicks that each lie a
    // little off. Clicks that were only rounded to their samples have some 3 samples, and are exact up to 8.
    private double Unsteadiness()
    {
        var values = Enumerable.Range(1, _sample.Length - 1).Select(i => (_sample[i] - _sample[i - 1]) / (_quarter[i] - _quarter[i - 1])).ToArray();
        for (var order = 0; order < 4; order++)
        {
            values = [.. values.Zip(values.Skip(1), (a, b) => b - a)];
        }

        var middle = values.Length == 0 ? 0 : values.Select(Math.Abs).Order().ElementAt(values.Length / 2);
        return middle < OfRounding ? 0 : 0.4 * middle;
    }

    // Whether a way was found: where a ramp ends at a tempo that misses the next click, none is.
    private bool Follow(bool ramps)
    {
        _points.Clear();

        // Where the map so far says that click i lies, and the tempo that a ramp before it ends at.
        var (i, at, forced) = (0, 0.0, (double?)null);
        while (i < _sample.Length - 1)
        {
            var (constant, slowest, fastest) = Constant(i, at, forced);
            var ramp = ramps ? Ramp(i, at, forced) : null;
            if (constant == i && ramp is null)
            {
                return false;
            }

            if (ramp is { } moves && moves.End > constant + 1)
            {
                var (end, from, to) = Rounded(i, at, forced, moves);
                Add(i, from, true);
                at += Duration(from, to, _quarter[end] - _quarter[i]);
                (i, forced) = (end, to);
                continue;
            }

            // One beat too many in a tempo spoils the ramp after it.
            var last = constant;
            if (constant < _sample.Length - 1)
            {
                last = Enumerable.Range(0, Tried).Select(n => constant - n).Where(e => e > i).MaxBy(e => Math.Max(Constant(e, _sample[e], null).End, (ramps ? Ramp(e, _sample[e], null)?.End : null) ?? e));
                (_, slowest, fastest) = Constant(i, at, forced, last);
            }

            var one = forced ?? Nicest(slowest, fastest);
            Add(i, one, false);
            at += _perMinute * (_quarter[last] - _quarter[i]) / one;
            (i, forced) = (last, null);
        }

        if (forced is { } ended)
        {
            Add(i, ended, false);
        }

        return true;
    }

    private void Add(int i, double tempo, bool ramp)
    {
        var exact = Rational.FromDouble(tempo, (long)Math.Pow(10, MostDecimals));
        if (ramp || _points.Count == 0 || _points[^1].Ramp || _points[^1].QuartersPerMinute != exact)
        {
            _points.Add(new TempoPoint(_places[i], exact, ramp));
        }
    }

    // As far as one tempo goes, and between which it may lie. At least to the next click, unless a tempo is forced that does not reach it.
    private (int End, double Slowest, double Fastest) Constant(int i, double at, double? forced, int most = int.MaxValue)
    {
        var near = Near(i, at);
        var (slowest, fastest) = forced is { } f ? (f, f) : (0, double.PositiveInfinity);
        for (var j = i + 1; j < _sample.Length && j <= most; j++)
        {
            var (quarters, samples) = (_quarter[j] - _quarter[i], _sample[j] - at);
            var (low, high) = (_perMinute * quarters / (samples + near), samples > near ? _perMinute * quarters / (samples - near) : double.PositiveInfinity);
            if (Math.Max(low, slowest) > Math.Min(high, fastest))
            {
                return (Math.Max(j - 1, forced is null ? i + 1 : i), slowest, fastest);
            }

            (slowest, fastest) = (Math.Max(low, slowest), Math.Min(high, fastest));
        }

        return (Math.Min(most, _sample.Length - 1), slowest, fastest);
    }

    // As far as one ramp goes.
    private (int End, double From, double To)? Ramp(int i, double at, double? forced)
    {
        (int End, double From, double To)? reached = null;
        var step = LeastForRamp;
        for (var end = i + step; end < _sample.Length; end = Math.Min(i + step, _sample.Length - 1))
        {
            if (Fit(i, end, at, forced, null) is not { } fits)
            {
                return Between(reached, i, end, at, forced);
            }

            reached = (end, fits.From, fits.To);
            if (end == _sample.Length - 1)
            {
                break;
            }

            step *= 2;
        }

        return reached;
    }

    private (int End, double From, double To)? Between((int End, double From, double To)? reached, int i, int beyond, double at, double? forced)
    {
        while (reached is { } r && beyond - r.End > 1)
        {
            var middle = (r.End + beyond) / 2;
            if (Fit(i, middle, at, forced, null) is { } fits)
            {
                reached = (middle, fits.From, fits.To);
            }
            else
            {
                beyond = middle;
            }
        }

        return reached;
    }

    // The ramp by numbers with few decimals where those hold the clicks as well, and into the tempo that goes on after it.
    private (int End, double From, double To) Rounded(int i, double at, double? forced, (int End, double From, double To) ramp)
    {
        for (var end = ramp.End; end > ramp.End - Tried && end >= i + LeastForRamp; end--)
        {
            var (after, slowest, fastest) = Constant(end, _sample[end], null);
            var tempo = after > end + 1 ? Nicest(slowest, fastest) : (double?)null;
            if (tempo is { } into && Fit(i, end, at, forced, into) is { } fits && Round(i, end, at, forced ?? fits.From, into, forced is null, false) is { } found)
            {
                return (end, found.From, found.To);
            }
        }

        for (var end = ramp.End; end > ramp.End - Tried && end >= i + LeastForRamp; end--)
        {
            if (Fit(i, end, at, forced, null) is { } fits && Round(i, end, at, fits.From, fits.To, forced is null, true) is { } found)
            {
                return (end, found.From, found.To);
            }
        }

        return ramp;
    }

    private (double From, double To)? Round(int i, int end, double at, double from, double to, bool roundFrom, bool roundTo)
    {
        for (var decimals = 0; decimals <= 4; decimals++)
        {
            var (a, b) = (roundFrom ? Math.Round(from, decimals) : from, roundTo ? Math.Round(to, decimals) : to);
            if (a > 0 && b > 0 && Holds(i, end, at, a, b))
            {
                return (a, b);
            }
        }

        return Holds(i, end, at, from, to) ? (from, to) : null;
    }

    private bool Holds(int i, int end, double at, double from, double to)
    {
        var (near, length) = (Near(i, at), _quarter[end] - _quarter[i]);
        for (var j = i + 1; j <= end; j++)
        {
            if (Math.Abs(at + Lies(from, to, length, _quarter[j] - _quarter[i]) - _sample[j]) > near)
            {
                return false;
            }
        }

        return true;
    }

    // The two tempos, by least squares; either may be given.
    private (double From, double To)? Fit(int i, int end, double at, double? start, double? into)
    {
        var length = _quarter[end] - _quarter[i];
        var from = start ?? (_perMinute * (_quarter[i + 1] - _quarter[i]) / (_sample[i + 1] - at));
        var to = into ?? (_perMinute * (_quarter[end] - _quarter[end - 1]) / (_sample[end] - _sample[end - 1]));
        for (var round = 0; round < 12; round++)
        {
            var (aa, ab, bb, ar, br) = (0.0, 0.0, 0.0, 0.0, 0.0);
            for (var j = i + 1; j <= end; j++)
            {
                var place = _quarter[j] - _quarter[i];
                var lies = Lies(from, to, length, place);
                var a = start is null ? (Lies(from * (1 + 1e-6), to, length, place) - lies) / (from * 1e-6) : 0;
                var b = into is null ? (Lies(from, to * (1 + 1e-6), length, place) - lies) / (to * 1e-6) : 0;
                var off = _sample[j] - at - lies;
                (aa, ab, bb, ar, br) = (aa + (a * a), ab + (a * b), bb + (b * b), ar + (a * off), br + (b * off));
            }

            var under = (aa * bb) - (ab * ab);
            var (moveFrom, moveTo) = start is null && into is null ? (under == 0 ? 0 : ((ar * bb) - (br * ab)) / under, under == 0 ? 0 : ((br * aa) - (ar * ab)) / under)
                : (start is null && aa > 0 ? ar / aa : 0, into is null && bb > 0 ? br / bb : 0);
            (from, to) = (Math.Clamp(from + moveFrom, from / 2, from * 2), Math.Clamp(to + moveTo, to / 2, to * 2));
        }

        return double.IsFinite(from) && double.IsFinite(to) && Holds(i, end, at, from, to) ? (from, to) : null;
    }

    private double Duration(double from, double to, double length) => Lies(from, to, length, length);

    // Samples from the start of a ramp to a place in it, both in quarters.
    private double Lies(double from, double to, double length, double place)
    {
        var slope = (to - from) / length;
        var x = slope * place / from;
        return Math.Abs(x) < 1e-9 ? _perMinute * place / from : _perMinute / slope * Math.Log(1 + x);
    }

    private static double Nicest(double slowest, double fastest)
    {
        if (double.IsPositiveInfinity(fastest))
        {
            return slowest;
        }

        var middle = (slowest + fastest) / 2;
        for (var decimals = 0; decimals < MostDecimals; decimals++)
        {
            var rounded = Math.Round(middle, decimals);
            if (rounded >= slowest && rounded <= fastest)
            {
                return rounded;
            }
        }

        return middle;
    }
}
