namespace Lyrotrans.Audio.Tests;

/// <summary>Makes and measures sines.</summary>
internal static class Sine
{
    public static double[] Make(double hz, double rate, int count, double level = 0.5) =>
        Enumerable.Range(0, count).Select(i => level * Math.Sin(2 * Math.PI * hz * i / rate)).ToArray();

    /// <summary>Amplitude of a frequency by least squares under a Hann window, and the largest sample of what is not it.</summary>
    public static (double Level, double Beside) Fit(ReadOnlySpan<double> sound, double hz, double rate)
    {
        double cc = 0, ss = 0, cs = 0, xc = 0, xs = 0;
        for (var i = 0; i < sound.Length; i++)
        {
            var w = 1 - Math.Cos(2 * Math.PI * (i + 0.5) / sound.Length);
            var (s, c) = Math.SinCos(2 * Math.PI * hz * i / rate);
            (cc, ss, cs) = (cc + (w * c * c), ss + (w * s * s), cs + (w * c * s));
            (xc, xs) = (xc + (w * sound[i] * c), xs + (w * sound[i] * s));
        }

        var (a, b) = (((xc * ss) - (xs * cs)) / ((cc * ss) - (cs * cs)), ((xs * cc) - (xc * cs)) / ((cc * ss) - (cs * cs)));
        var rest = 0.0;
        for (var i = 0; i < sound.Length; i++)
        {
            var (s, c) = Math.SinCos(2 * Math.PI * hz * i / rate);
            rest = Math.Max(rest, Math.Abs(sound[i] - (a * c) - (b * s)));
        }

        return (Math.Sqrt((a * a) + (b * b)), rest);
    }

    public static double Db(double ratio) => 20 * Math.Log10(ratio);

    public static double Peak(ReadOnlySpan<double> sound)
    {
        var peak = 0.0;
        foreach (var value in sound)
        {
            peak = Math.Max(peak, Math.Abs(value));
        }

        return peak;
    }

    public static double[] Noise(int count, int seed, double level)
    {
        var dice = new Random(seed);
        return Enumerable.Range(0, count).Select(_ => level * ((2 * dice.NextDouble()) - 1)).ToArray();
    }
}
