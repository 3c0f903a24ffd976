using System.Globalization;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Tests;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Bench;

/// <summary>The table of docs/exactness.md: what is measured here is written there.</summary>
internal static class ExactnessBench
{
    private static readonly (int From, int To)[] s_rates = [(44_100, 48_000), (48_000, 44_100), (96_000, 48_000), (44_100, 96_000), (192_000, 48_000)];

    public static void Run()
    {
        Console.WriteLine("| what | of what | measured |\n| --- | --- | --- |");
        foreach (var (from, to) in s_rates)
        {
            Conversion(from, to);
        }

        Pan();
        Dithers();
        Levels();
    }

    private static void Row(string what, string of, string measured) => Console.WriteLine($"| {what} | {of} | {measured} |");

    private static string Said(double value, string form, string unit) => $"{value.ToString(form, CultureInfo.InvariantCulture)} {unit}";

    private static void Conversion(int from, int to)
    {
        var (ripple, rest, name) = (0.0, 0.0, $"{from} to {to} Hz");
        var top = Math.Min(from, to) * 0.9 / 2;
        foreach (var hz in new[] { 20, 40, 997, 5000, 12_000, 15_000, 18_000, top }.Where(h => h <= top))
        {
            var (level, beside) = Sine.Fit(Converted(Sine.Make(hz, from, from, 0.5), from, to).AsSpan(to / 5, to / 2), hz, to);
            (ripple, rest) = (Math.Max(ripple, Math.Abs(Sine.Db(level / 0.5))), Math.Max(rest, beside));
        }

        Row("ripple to 0.9 of half the lower rate", name, Said(ripple, "0.000000", "dB"));
        Row("images and all else beside the sine", name, Said(Sine.Db(rest), "0.0", "dBFS"));
        var error = ConvertBench.Whole(new ArraySource([Sine.Noise(30_000, 2, 0.8)], SampleRate.FromHz(from)), SampleRate.FromHz(to));
        Row("against the second converter, noise, whole", name, $"{Said(Sine.Db(error.Peak), "0.0", "dBFS")}, {Said(error.Late, "0.000000000", "samples late")}");
    }

    private static double[] Converted(double[] sound, int from, int to)
    {
        using var source = new ConvertedSource(new ArraySource([sound], SampleRate.FromHz(from)), SampleRate.FromHz(to));
        double[][] made = [new double[source.Length]];
        source.Read(0, made[0].Length, made);
        return made[0];
    }

    private static void Pan()
    {
        foreach (var law in Enum.GetValues<PanLaw>())
        {
            var (centre, _) = law.Gains(0);
            var power = Enumerable.Range(-100, 201).Select(p => law.Gains(p / 100.0)).Select(g => 10 * Math.Log10((g.Left * g.Left) + (g.Right * g.Right))).ToList();
            Row("centre, and power from left to right", $"pan law {PanLaws.Words(law)}", $"{Said(Sine.Db(centre), "0.000000", "dB")}, {Said(power.Min(), "0.000000", "to")} {Said(power.Max(), "0.000000", "dB")}");
        }
    }

    private static void Dithers()
    {
        foreach (var noise in new[] { DitherNoise.Flat, DitherNoise.Shaped })
        {
            var sound = Sine.Make(997, 48_000, 1 << 17, 0.25);
            var (bytes, back) = (new byte[sound.Length * 2], new double[][] { new double[sound.Length] });
            new PcmEncoder(SampleEncoding.Integer16, Dither.Of(noise, "exactness")).Encode([sound], 1, sound.Length, bytes);
            PcmDecoder.Decode(bytes, SampleEncoding.Integer16, false, 1, back, 0);
            var error = back[0].Zip(sound, (a, b) => a - b).ToArray();
            Row("noise of 16 bits: mean square, and the tone's own error", $"dither {noise.ToString().ToLowerInvariant()}",
                $"{Said(10 * Math.Log10(error.Average(e => e * e)), "0.00", "dBFS")}, {Said(Sine.Db(Sine.Fit(back[0], 997, 48_000).Level / 0.25), "0.00000", "dB")}");
        }
    }

    private static void Levels()
    {
        foreach (var level in new[] { -23, -33 })
        {
            var sine = Sine.Make(1000, 48_000, 960_000, Math.Pow(10, level / 20.0));
            using var source = new ArraySource([sine, sine], SampleRate.Hz48000);
            Row("loudness", $"1 kHz at {level} dBFS in two channels (EBU Tech 3341)", Said(SoundAnalysis.Measure(source, CancellationToken.None).Levels.Loudness!.Value, "0.00", "LUFS"));
        }

        foreach (var (period, degrees) in new[] { (4, 0.0), (4, 45), (6, 60), (8, 67.5) })
        {
            var sound = Enumerable.Range(0, 48_000).Select(i => 0.5 * Math.Min(1, Math.Min(i, 47_999 - i) / 500.0) * Math.Sin((2 * Math.PI * i / period) + (degrees * Math.PI / 180))).ToArray();
            using var source = new ArraySource([sound], SampleRate.Hz48000);
            Row("true peak less theory", string.Create(CultureInfo.InvariantCulture, $"a {period}th of the rate at {degrees}°"), Said(SoundAnalysis.Measure(source, CancellationToken.None).Levels.TruePeakDb - Sine.Db(0.5), "0.000", "dB"));
        }
    }
}
