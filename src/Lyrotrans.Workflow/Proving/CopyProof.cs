using System.Numerics.Tensors;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// Holds a copy to listen to against the file that it is of, second by second: it is lossy, so what is left is compared with how loud the sound is there. A copy that was made
/// here with the same libraries is held to the byte besides.
/// </summary>
public static class CopyProof
{
    /// <summary>How far the difference must lie under the sound of a second, in dB.</summary>
    public const double LeastDb = 6;

    // Below this a difference is not heard, and a codec leaves such sound out.
    private const double FaintDb = -60;

    /// <param name="file">The copy.</param>
    /// <param name="copy">As it was found.</param>
    /// <param name="of">The file that it is of, as it was found; of more channels than the copy has, the first.</param>
    /// <param name="stop">Stops between seconds.</param>
    public static ProofRow Prove(PlannedFile file, ISampleSource copy, ISampleSource of, CancellationToken stop)
    {
        var second = (int)of.Rate.HeaderHz;
        var (found, meant) = (Planar(copy.Channels, second), Planar(of.Channels, second));
        var (worst, at) = (double.PositiveInfinity, 0L);
        for (long start = 0; start < of.Length; start += second)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(second, of.Length - start);
            copy.Read(start, count, found);
            of.Read(start, count, meant);
            var under = Under(found, meant, count);
            (worst, at) = under < worst ? (under, start / second) : (worst, at);
        }

        var passes = worst >= LeastDb;
        return new ProofRow(
            Path.GetFileName(file.Path), "copy against its file", $"at least {LeastDb:0} dB under the sound in every second",
            double.IsPositiveInfinity(worst) ? "silence" : $"{Decibels.Words(worst)} dB under it in second {Digits.Grouped(at)}", passes ? "stated" : "differs", passes);
    }

    // By how many dB the difference lies under the sound, or under what is faint.
    private static double Under(double[][] found, double[][] meant, int count)
    {
        var (sound, left) = (0.0, 0.0);
        for (var c = 0; c < found.Length; c++)
        {
            ReadOnlySpan<double> original = meant[c].AsSpan(0, count);
            sound += TensorPrimitives.SumOfSquares(original);

            // A copy holds what its file cut off at full scale.
            var most = Math.Max(1, Math.Abs(TensorPrimitives.MaxMagnitude(original)));
            var copy = found[c].AsSpan(0, count);
            TensorPrimitives.Clamp(copy, -most, most, copy);
            var distance = TensorPrimitives.Distance(copy, original);
            left += distance * distance;
        }

        var faint = found.Length * count * Math.Pow(10, (FaintDb + LeastDb) / 10);
        return left == 0 ? double.PositiveInfinity : 10 * Math.Log10(Math.Max(sound, faint) / left);
    }

    private static double[][] Planar(int channels, int count) => [.. Enumerable.Range(0, channels).Select(_ => new double[count])];
}
