using System.Numerics.Tensors;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// How like stretches of a sound are to another at each shift, as they sound: steady tones, which have no phases but at a few frequencies, are told apart by this, and what is the same is 1 where it lies.
/// </summary>
internal sealed class PlainLikeness
{
    // What is 30 dB below the loudest that is looked through is like nothing: what the transform rounds is not small beside it.
    private const double Silence = 1e-3;
    private readonly IReadOnlyList<float[]> _stretches;
    private readonly List<(Complex32[] First, Complex32[] Second)> _sought = [];
    private readonly double _energy;

    /// <param name="stretches">What is looked for, all of it at one shift.</param>
    /// <param name="size">Of the blocks that it is looked for in, a power of two.</param>
    public PlainLikeness(IReadOnlyList<float[]> stretches, int size)
    {
        (_stretches, _energy) = (stretches, stretches.Sum(s => (double)TensorPrimitives.SumOfSquares<float>(s)));
        for (var s = 0; s < stretches.Count; s += 2)
        {
            var (first, second) = PhaseLikeness.Spectra(stretches[s], s + 1 < stretches.Count ? stretches[s + 1] : [], size);
            _sought.Add((Turned(first), Turned(second)));
        }
    }

    /// <summary>The correlation over all stretches together at each shift of them in their blocks, −1 to 1.</summary>
    /// <param name="blocks">One for each stretch.</param>
    /// <param name="shifts">So many are looked at, from 0; no stretch reaches over its block's end by them.</param>
    public double[] In(IReadOnlyList<float[]> blocks, int shifts) => In(blocks, Spectra(blocks), shifts);

    /// <summary>The spectra of blocks, two at once.</summary>
    public static List<(Complex32[] First, Complex32[] Second)> Spectra(IReadOnlyList<float[]> blocks) =>
        [.. Enumerable.Range(0, (blocks.Count + 1) / 2).Select(p => PhaseLikeness.Spectra(blocks[2 * p], (2 * p) + 1 < blocks.Count ? blocks[(2 * p) + 1] : [], blocks[0].Length))];

    /// <inheritdoc cref="In(IReadOnlyList{float[]}, int)"/>
    /// <param name="spectra">Of the blocks, as they are.</param>
    public double[] In(IReadOnlyList<float[]> blocks, IReadOnlyList<(Complex32[] First, Complex32[] Second)> spectra, int shifts)
    {
        var energy = new double[shifts];
        var cross = PhaseLikeness.OfAll(spectra.SelectMany((b, p) => new[] { (b.First, _sought[p].First), (b.Second, _sought[p].Second) }), blocks[0].Length);
        for (var s = 0; s < blocks.Count; s++)
        {
            AddEnergies(_stretches[s].Length, blocks[s], energy);
        }

        var least = Silence * energy.Max();
        return [.. energy.Select((e, i) => e > least && _energy > 0 ? Math.Clamp(cross[i].Real / blocks[0].Length / Math.Sqrt(e * _energy), -1, 1) : 0)];
    }

    private static void AddEnergies(int length, float[] block, double[] energy)
    {
        var here = (double)TensorPrimitives.SumOfSquares<float>(block.AsSpan(0, length));
        for (var i = 0; i < energy.Length; i++)
        {
            energy[i] += Math.Max(0, here);
            here += i + length < block.Length ? ((double)block[i + length] * block[i + length]) - ((double)block[i] * block[i]) : 0;
        }
    }

    private static Complex32[] Turned(Complex32[] spectrum) => [.. spectrum.Select(v => v.Conjugate())];
}
