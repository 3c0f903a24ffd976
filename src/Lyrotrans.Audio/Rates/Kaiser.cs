namespace Lyrotrans.Audio.Rates;

/// <summary>A sinc under a Kaiser window: the taps of filters between samples.</summary>
internal static class Kaiser
{
    /// <summary>The windowed sinc at a place; it crosses zero at every whole place but 0.</summary>
    /// <param name="at">From the middle, in samples.</param>
    /// <param name="reach">Where the window ends, in samples.</param>
    /// <param name="beta">How steeply it falls: about 5.7 for 60 dB, 12.3 for 120 dB.</param>
    public static double Sinc(double at, double reach, double beta)
    {
        var x = at / reach;
        return Math.Abs(x) >= 1 ? 0 : (at == 0 ? 1 : Math.Sin(Math.PI * at) / (Math.PI * at)) * Bessel(beta * Math.Sqrt(1 - (x * x))) / Bessel(beta);
    }

    // The modified Bessel function of the first kind, order zero, by its series.
    private static double Bessel(double x)
    {
        var (sum, term) = (1.0, 1.0);
        for (var k = 1; term > 1e-18 * sum; k++)
        {
            term *= x / (2 * k) * (x / (2 * k));
            sum += term;
        }

        return sum;
    }
}
