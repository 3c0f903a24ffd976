using System.Numerics;
using System.Numerics.Tensors;
using System.Runtime.InteropServices;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Rates;

namespace Lyrotrans.Audio.Analysis;

/// <summary>
/// Finds the largest value of a channel between its samples, at four times the rate (ITU-R BS.1770-5, annex 2). A stretch whose samples are too quiet to
/// make a larger one, whatever lies between them, is not computed.
/// </summary>
public sealed class TruePeakMeter
{
    private const int Factor = 4;
    private const int Taps = 24;
    private const int Stretch = 256;
    private const double Beta = 6;
    private static readonly double[][] s_phases = [.. Enumerable.Range(1, Factor - 1).Select(Phase)];

    private static readonly Vector<double>[][] s_wide = [.. s_phases.Select(p => p.Select(t => new Vector<double>(t)).ToArray())];

    // No value between samples is larger than the largest sample near it times this.
    private static readonly double s_most = s_phases.Max(p => p.Sum(Math.Abs));
    private readonly double[] _line = new double[Taps - 1 + Stretch];
    private double _pastMagnitude;

    /// <summary>The largest so far; 1 is full scale.</summary>
    public double Peak { get; private set; }

    /// <summary>Takes the next samples of its channel; full scale is 1.</summary>
    public void Take(ReadOnlySpan<double> samples)
    {
        while (samples.Length > 0)
        {
            var piece = samples[..Math.Min(Stretch, samples.Length)];
            TakePiece(piece, Extremes.Of(piece).Magnitude);
            samples = samples[piece.Length..];
        }
    }

    /// <summary>Ends the sound: what follows is silence.</summary>
    public void End() => TakePiece(new double[Taps], 0);

    // Several places at once, and all three between two samples from the same reading of them.
    private static double LargestBetween(ReadOnlySpan<double> line)
    {
        ref var start = ref MemoryMarshal.GetReference(line);
        var (first, second, third) = (s_wide[0], s_wide[1], s_wide[2]);
        var (most, at, count, wide) = (Vector<double>.Zero, 0, line.Length - Taps + 1, Vector<double>.Count);
        for (; at + (2 * wide) <= count; at += 2 * wide)
        {
            var (a1, a2, a3, b1, b2, b3) = (Vector<double>.Zero, Vector<double>.Zero, Vector<double>.Zero, Vector<double>.Zero, Vector<double>.Zero, Vector<double>.Zero);
            for (var k = 0; k < Taps; k++)
            {
                var (a, b) = (Vector.LoadUnsafe(ref start, (nuint)(at + k)), Vector.LoadUnsafe(ref start, (nuint)(at + k + wide)));
                a1 = Vector.FusedMultiplyAdd(a, first[k], a1);
                b1 = Vector.FusedMultiplyAdd(b, first[k], b1);
                a2 = Vector.FusedMultiplyAdd(a, second[k], a2);
                b2 = Vector.FusedMultiplyAdd(b, second[k], b2);
                a3 = Vector.FusedMultiplyAdd(a, third[k], a3);
                b3 = Vector.FusedMultiplyAdd(b, third[k], b3);
            }

            most = Vector.Max(most, Vector.Max(Vector.Abs(a1), Vector.Abs(b1)));
            most = Vector.Max(most, Vector.Max(Vector.Abs(a2), Vector.Abs(b2)));
            most = Vector.Max(most, Vector.Max(Vector.Abs(a3), Vector.Abs(b3)));
        }

        var largest = 0.0;
        for (var i = 0; i < wide; i++)
        {
            largest = Math.Max(largest, most[i]);
        }

        for (; at < count; at++)
        {
            foreach (var phase in s_phases)
            {
                largest = Math.Max(largest, Math.Abs(TensorPrimitives.Dot(line.Slice(at, Taps), phase)));
            }
        }

        return largest;
    }

    private static double[] Phase(int phase)
    {
        var taps = Enumerable.Range(0, Taps).Select(k => Kaiser.Sinc(k - (Taps / 2) + 1 - ((double)phase / Factor), Taps / 2, Beta)).ToArray();
        var sum = taps.Sum();
        return [.. taps.Select(t => t / sum)];
    }

    private void TakePiece(ReadOnlySpan<double> piece, double magnitude)
    {
        piece.CopyTo(_line.AsSpan(Taps - 1));
        Peak = Math.Max(Peak, magnitude);
        if (Math.Max(magnitude, _pastMagnitude) * s_most > Peak)
        {
            Peak = Math.Max(Peak, LargestBetween(_line.AsSpan(0, Taps - 1 + piece.Length)));
        }

        // The piece may be shorter than what is kept, so the line moves on as a whole.
        _line.AsSpan(piece.Length, Taps - 1).CopyTo(_line);
        _pastMagnitude = Extremes.Of(_line.AsSpan(0, Taps - 1)).Magnitude;
    }
}
