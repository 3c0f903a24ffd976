using System.Collections.Concurrent;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Clips;

/// <summary>
/// A shape by as few points as keep straight lines between them near it: within 0.05 dB above −60 dB, and below that within 10⁻⁴ of full scale. Points need not
/// lie on the shape, which takes a third fewer.
/// </summary>
internal static class FadeCurve
{
    private const int Grid = 4096;
    private const double Fine = 1 << 24;
    private const double Faint = 1e-3;

    // A hair inside the bounds, for what is rounded and what lies between two places of the grid.
    private const double MostDb = 0.048;
    private const double MostFaint = 0.9e-4;
    private static readonly ConcurrentDictionary<FadeShape, Fade> s_kept = new();

    /// <summary>The fade with its shape as points.</summary>
    /// <param name="fade">With a shape that has a name.</param>
    public static Fade Of(Fade fade) => s_kept.GetOrAdd(fade.Shape, Make) with { Length = fade.Length };

    /// <summary>A gain or a place as files hold it exactly.</summary>
    public static double Rounded(double value) => Math.Round(Math.Clamp(value, 0, 1) * Fine) / Fine;

    private static Fade Make(FadeShape shape)
    {
        var values = Candidates(new Fade(1, shape));

        // The fewest lines to each candidate, and where the last of them came from.
        var (lines, from) = (new int[Grid + 1, 3], new (int Place, int Value)[Grid + 1, 3]);
        for (var i = 1; i <= Grid; i++)
        {
            (lines[i, 0], lines[i, 1], lines[i, 2]) = (int.MaxValue, int.MaxValue, int.MaxValue);
        }

        for (var i = 0; i < Grid; i++)
        {
            for (var v = 0; v < 3; v++)
            {
                if (lines[i, v] < int.MaxValue)
                {
                    Reach(values, i, v, lines, from);
                }
            }
        }

        var (curve, places) = (new List<double>(), new List<double>());
        for (var at = (Place: Grid, Value: 1); ; at = from[at.Place, at.Value])
        {
            curve.Insert(0, values[at.Place, at.Value]);
            places.Insert(0, (double)at.Place / Grid);
            if (at.Place == 0)
            {
                return new Fade(1, FadeShape.Sampled, curve.ToValueArray(), places.ToValueArray());
            }
        }
    }

    // Every candidate that one straight line from here reaches without leaving the bounds on its way.
    private static void Reach(double[,] values, int i, int v, int[,] lines, (int Place, int Value)[,] from)
    {
        var (least, most) = (double.NegativeInfinity, double.PositiveInfinity);
        for (var j = i + 1; j <= Grid; j++)
        {
            for (var w = 0; w < 3; w++)
            {
                var slope = (values[j, w] - values[i, v]) / (j - i);
                if (slope >= least && slope <= most && lines[i, v] + 1 < lines[j, w])
                {
                    lines[j, w] = lines[i, v] + 1;
                    from[j, w] = (i, v);
                }
            }

            least = Math.Max(least, (values[j, 0] - values[i, v]) / (j - i));
            most = Math.Min(most, (values[j, 2] - values[i, v]) / (j - i));
            if (least > most)
            {
                return;
            }
        }
    }

    // The lowest that may be taken, the shape itself, and the highest; silence and full are themselves.
    private static double[,] Candidates(Fade fade)
    {
        var values = new double[Grid + 1, 3];
        for (var i = 0; i <= Grid; i++)
        {
            var meant = i == 0 ? 0 : i == Grid ? 1 : fade.ShapeAt((double)i / Grid);
            var by = i is 0 or Grid ? 0 : meant < Faint ? MostFaint : meant - (meant * Math.Pow(10, -MostDb / 20));
            (values[i, 0], values[i, 1], values[i, 2]) = (Rounded(meant - by), Rounded(meant), Rounded(meant + by));
        }

        return values;
    }
}
