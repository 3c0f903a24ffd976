using Lyrotrans.Core.Collections;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>Looks for the excerpts of many sounds in all of a reference at once, a block of the reference after the other.</summary>
/// <param name="reference">At the rate of the analysis.</param>
internal sealed class CoarseSearch(float[] reference)
{
    private const int Size = 1 << 18;
    private const int Hop = Size - SoundProbe.Excerpt;
    private const int MostPeaks = 8;
    private const double LeastClearness = 5;

    // 3 ms: nearer peaks are one.
    private const int Apart = 24;
    private readonly double _power = PhaseLikeness.Power(reference);

    /// <summary>For each excerpt, with its place in its sound, the places that its first sample may lie on, the clearest first; how far each stands out, in standard deviations.</summary>
    public IReadOnlyList<IReadOnlyList<(long Place, double Clearness)>> Find(IReadOnlyList<(int At, float[] Samples)> sounds, Action<double> report, CancellationToken stop)
    {
        var sought = AtOnce.Select([.. Enumerable.Range(0, (sounds.Count + 1) / 2)], pair => PhaseLikeness.Sought(sounds[2 * pair].Samples, Second(sounds, pair).Samples, Size), stop);
        var found = sounds.Select(_ => new List<(long Place, double Clearness)>()).ToList();

        // From an excerpt before the reference to its end, so that a sound may begin before it and run past it. Blocks go in twos, since two spectra cost no more than one.
        var blocks = ((reference.Length + SoundProbe.Excerpt) / Hop) + 1;
        for (var block = 0; block < blocks; block += 2)
        {
            var from = ((long)block * Hop) - SoundProbe.Excerpt;
            var through = PhaseLikeness.Through(Block(from), Block(from + Hop), Size, _power);
            AtOnce.Each(
                sought.Count,
                pair =>
                {
                    foreach (var (spectrum, at) in new[] { (through.First, from), (through.Second, from + Hop) })
                    {
                        var likeness = PhaseLikeness.Of((spectrum, sought[pair].First), (spectrum, sought[pair].Second));
                        found[2 * pair].AddRange(Peaks(likeness, v => v.Real).Select(p => (at + p.At - sounds[2 * pair].At, p.Clearness)));
                        if ((2 * pair) + 1 < sounds.Count)
                        {
                            found[(2 * pair) + 1].AddRange(Peaks(likeness, v => v.Imaginary).Select(p => (at + p.At - sounds[(2 * pair) + 1].At, p.Clearness)));
                        }
                    }
                },
                stop);
            report(Math.Min(1, (block + 2.0) / blocks));
        }

        return [.. found.Select(f => f.OrderByDescending(p => p.Clearness).Take(MostPeaks).ToList())];
    }

    private static (int At, float[] Samples) Second(IReadOnlyList<(int At, float[] Samples)> sounds, int pair) => (2 * pair) + 1 < sounds.Count ? sounds[(2 * pair) + 1] : (0, []);

    private float[] Block(long from)
    {
        var block = new float[Size];
        var (begin, end) = (Math.Max(0, from), Math.Min(reference.Length, from + Size));
        if (end > begin)
        {
            reference.AsSpan((int)begin, (int)(end - begin)).CopyTo(block.AsSpan((int)(begin - from)));
        }

        return block;
    }

    private static List<(int At, double Clearness)> Peaks(Complex32[] likeness, Func<Complex32, float> part)
    {
        var values = new float[Hop];
        for (var i = 0; i < Hop; i++)
        {
            values[i] = Math.Abs(part(likeness[i]));
        }

        var deviation = Math.Sqrt(PhaseLikeness.Power(values));
        var result = new List<(int At, double Clearness)>();
        foreach (var at in Enumerable.Range(0, values.Length).Where(i => values[i] > LeastClearness * deviation).OrderByDescending(i => values[i]))
        {
            if (result.Count == MostPeaks)
            {
                break;
            }

            if (result.TrueForAll(p => Math.Abs(p.At - at) > Apart))
            {
                result.Add((at, values[at] / deviation));
            }
        }

        return result;
    }
}
