using System.Numerics.Tensors;
using Lyrotrans.Core.Collections;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Looks for stretches of many sounds in all of a reference at once, as they sound. A note or a hit that is too short to be known by its phases is found by this wherever it is nearly the same.
/// </summary>
/// <param name="reference">What is looked through.</param>
internal sealed class AlikeSearch(AnalysedSound reference)
{
    private const int Size = 1 << 17;
    private const int Hop = Size - SoundProbe.Stretch;
    private const int MostPlaces = 8;

    // 3 ms: nearer places are one.
    private const int Apart = 24;

    // What is 60 dB below the loudest of a block is like nothing: what the transform rounds is not small beside it.
    private const double Silence = 1e-6;

    /// <summary>For each stretch the places that its first sample may lie on, the most alike first, and the correlation there, 0 to 1; of places that lie next to each other the most alike one.</summary>
    /// <param name="stretches">None longer than <see cref="SoundProbe.Stretch"/>.</param>
    /// <param name="least">Less alike places are left out.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public IReadOnlyList<IReadOnlyList<(long Place, double Likeness)>> Find(IReadOnlyList<float[]> stretches, double least, CancellationToken stop)
    {
        var own = stretches.Select(s => Math.Sqrt(TensorPrimitives.SumOfSquares<float>(s))).ToList();
        var sought = AtOnce.Select([.. Enumerable.Range(0, (stretches.Count + 1) / 2)], pair => Turned(stretches[2 * pair], Second(stretches, pair)), stop);
        var blocks = ((reference.Samples.Length + SoundProbe.Stretch) / Hop) + 1;
        var found = AtOnce.Select([.. Enumerable.Range(0, blocks)], b =>
        {
            var from = ((long)b * Hop) - SoundProbe.Stretch;
            var block = reference.Read(from, Size);
            var (through, sums) = (PhaseLikeness.Spectra(block, [], Size).First, Sums(block));
            var places = new List<(long Place, double Likeness)>[stretches.Count];
            for (var pair = 0; pair < sought.Count; pair++)
            {
                var cross = PhaseLikeness.Of((through, sought[pair].First), (through, sought[pair].Second));
                places[2 * pair] = Peaks(i => cross[i].Real, sums, stretches[2 * pair].Length, own[2 * pair], from, least);
                if ((2 * pair) + 1 < places.Length)
                {
                    places[(2 * pair) + 1] = Peaks(i => cross[i].Imaginary, sums, stretches[(2 * pair) + 1].Length, own[(2 * pair) + 1], from, least);
                }
            }

            return places;
        }, stop);
        return [.. stretches.Select((_, s) => Highest(found.SelectMany(f => f[s])))];
    }

    private static (Complex32[] First, Complex32[] Second) Turned(float[] one, float[] two)
    {
        var (first, second) = PhaseLikeness.Spectra(one, two, Size);
        return ([.. first.Select(v => v.Conjugate())], [.. second.Select(v => v.Conjugate())]);
    }

    private static float[] Second(IReadOnlyList<float[]> stretches, int pair) => (2 * pair) + 1 < stretches.Count ? stretches[(2 * pair) + 1] : [];

    /// <summary>The energy of all samples before each.</summary>
    private static double[] Sums(float[] block)
    {
        var sums = new double[block.Length + 1];
        for (var i = 0; i < block.Length; i++)
        {
            sums[i + 1] = sums[i] + ((double)block[i] * block[i]);
        }

        return sums;
    }

    /// <summary>The most alike of each few milliseconds, and of these the most alike.</summary>
    private static List<(long Place, double Likeness)> Peaks(Func<int, float> cross, double[] sums, int length, double own, long from, double least)
    {
        double Energy(int i) => sums[i + length] - sums[i];
        var silent = Silence * Enumerable.Range(0, Hop).Max(Energy);
        var peaks = new List<(long Place, double Likeness)>();
        for (var cell = 0; cell < Hop; cell += Apart)
        {
            var best = (At: -1, Likeness: 0.0);
            for (var i = cell; i < Math.Min(Hop, cell + Apart); i++)
            {
                if (Energy(i) > silent && Math.Abs(cross(i)) / (Size * own * Math.Sqrt(Energy(i))) is var likeness && likeness > best.Likeness)
                {
                    best = (i, Math.Min(1, likeness));
                }
            }

            if (best.Likeness >= least && best.At >= 0)
            {
                peaks.Add((from + best.At, best.Likeness));
            }
        }

        return Highest(peaks);
    }

    /// <summary>The most alike places that are no neighbours.</summary>
    public static List<(long Place, double Likeness)> Highest(IEnumerable<(long Place, double Likeness)> places)
    {
        var kept = new List<(long Place, double Likeness)>();
        foreach (var place in places.OrderByDescending(p => p.Likeness))
        {
            if (kept.Count == MostPlaces)
            {
                break;
            }

            if (kept.TrueForAll(k => Math.Abs(k.Place - place.Place) > Apart))
            {
                kept.Add(place);
            }
        }

        return kept;
    }
}
