using System.Numerics.Tensors;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>
/// Lays channels into the channels of what they feed. Into one: their mean. One into two: by the pan law. Two into two: balance. More into two: spread evenly from
/// left to right by the pan law. Into more: channel by channel, a mono sound into the first two.
/// </summary>
internal sealed class Panner(PanLaw law, int from, int to, double pan, Automation? automation)
{
    private readonly double[][] _matrix = Matrix(law, from, to, pan);

    /// <summary>Fills <c>into[channel]</c> with <paramref name="count"/> samples; <paramref name="start"/> is the session sample of the first.</summary>
    public void Lay(double[][] samples, long start, int count, double[][] into)
    {
        if (automation is not null && to == 2 && from <= 2)
        {
            Moving(samples, start, count, into);
            return;
        }

        for (var t = 0; t < to; t++)
        {
            into[t].AsSpan(0, count).Clear();
            for (var f = 0; f < from; f++)
            {
                if (_matrix[t][f] is var gain and not 0)
                {
                    var output = into[t].AsSpan(0, count);
                    TensorPrimitives.MultiplyAdd(samples[f].AsSpan(0, count), gain, output, output);
                }
            }
        }
    }

    private void Moving(double[][] samples, long start, int count, double[][] into)
    {
        var (at, gains) = (double.NaN, (Left: 0.0, Right: 0.0));
        var right = from == 1 ? 0 : 1;
        for (var i = 0; i < count; i++)
        {
            var place = automation!.ValueAt(start + i);
            if (place != at)
            {
                at = place;
                gains = from == 1 ? law.Gains(place) : PanLaws.Balance(Math.Clamp(place, -1, 1));
            }

            into[0][i] = samples[0][i] * gains.Left;
            into[1][i] = samples[right][i] * gains.Right;
        }
    }

    private static double[][] Matrix(PanLaw law, int from, int to, double pan)
    {
        var matrix = Enumerable.Range(0, to).Select(_ => new double[from]).ToArray();
        if (to == 1)
        {
            Array.Fill(matrix[0], 1.0 / from);
        }
        else if (from == 1)
        {
            (matrix[0][0], matrix[1][0]) = law.Gains(pan);
        }
        else if (from == 2 && to == 2)
        {
            (matrix[0][0], matrix[1][1]) = PanLaws.Balance(Math.Clamp(pan, -1, 1));
        }
        else if (to == 2)
        {
            for (var f = 0; f < from; f++)
            {
                (matrix[0][f], matrix[1][f]) = law.Gains(-1 + (2.0 * f / (from - 1)));
            }
        }
        else
        {
            for (var c = 0; c < Math.Min(from, to); c++)
            {
                matrix[c][c] = 1;
            }
        }

        return matrix;
    }
}
