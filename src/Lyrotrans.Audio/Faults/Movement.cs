using System.Numerics.Tensors;

namespace Lyrotrans.Audio.Faults;

/// <summary>How a short stretch of sound moves.</summary>
/// <param name="Level">RMS, 1 is full scale.</param>
/// <param name="AtEdge">RMS of its 64 samples next to the run.</param>
/// <param name="Mean">Mean of its moves from one sample to the next.</param>
/// <param name="Least">Its smallest move that is one.</param>
/// <param name="Low">Its lowest sample.</param>
/// <param name="High">Its highest.</param>
internal readonly record struct Movement(double Level, double AtEdge, double Mean, double Least, double Low, double High)
{
    private const int Edge = 64;

    /// <param name="samples">More than 64.</param>
    /// <param name="breaksOff">Whether it breaks off at its end, and not at its start.</param>
    public static Movement Of(ReadOnlySpan<double> samples, bool breaksOff)
    {
        var (sum, least) = (0.0, double.MaxValue);
        for (var i = 1; i < samples.Length; i++)
        {
            var move = Math.Abs(samples[i] - samples[i - 1]);
            sum += move;
            least = move > 0 ? Math.Min(least, move) : least;
        }

        return new Movement(Level(samples), Level(breaksOff ? samples[^Edge..] : samples[..Edge]), sum / (samples.Length - 1), least, TensorPrimitives.Min(samples), TensorPrimitives.Max(samples));

        static double Level(ReadOnlySpan<double> samples) => Math.Sqrt(TensorPrimitives.SumOfSquares(samples) / samples.Length);
    }
}
