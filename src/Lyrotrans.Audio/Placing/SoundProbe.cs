using System.Numerics.Tensors;

namespace Lyrotrans.Audio.Placing;

/// <summary>What is kept of a sound to look for it by, in samples of the analysis: the loudest excerpt, and loud stretches spread over the whole of it.</summary>
internal sealed class SoundProbe
{
    /// <summary>The longest excerpt, about 12 s.</summary>
    public const int Excerpt = 3 << 15;

    /// <summary>Of a stretch, about 2 s.</summary>
    public const int Stretch = 1 << 14;

    private const int MostStretches = 16;
    private const int Step = 1 << 10;

    // A tenth of a second; shorter sounds are found by chance anywhere.
    private const int Shortest = AnalysisSound.Hz / 10;

    // 1 ms, and that of 20 Hz.
    private const int ShortestPeriod = AnalysisSound.Hz / 1000;
    private const int LongestPeriod = AnalysisSound.Hz / 20;
    private const double Alike = 0.995;

    // 20 dB below the loudest part is sound still.
    private const double Sounding = 1e-2;

    // 40 dB below the loudest stretch is too little to know it by.
    private const double LeastEnergy = 1e-4;

    private SoundProbe(int length, IReadOnlyList<(int At, float[] Samples)> excerpts, IReadOnlyList<(int At, float[] Samples)> stretches, int? channel) =>
        (Length, Excerpts, Stretches, Channel) = (length, excerpts, stretches, channel);

    /// <summary>Of the whole sound.</summary>
    public int Length { get; }

    /// <summary>Which channel of the sound stands for it; none for the mean.</summary>
    public int? Channel { get; }

    /// <summary>The loudest one, and the loudest of what lies beside it, if anything does.</summary>
    public IReadOnlyList<(int At, float[] Samples)> Excerpts { get; }

    /// <summary>Ascending; at least one.</summary>
    public IReadOnlyList<(int At, float[] Samples)> Stretches { get; }

    /// <summary>Where in a stretch a part begins that sounds, in samples from the stretch's first: the first that is not much softer than the loudest, since a beginning is at one place, and what is held at many.</summary>
    /// <param name="stretch">Its number.</param>
    /// <param name="length">Of the part, in samples.</param>
    public int SoundingIn(int stretch, int length)
    {
        var samples = Stretches[stretch].Samples;
        var parts = new List<(int At, double Energy)>();
        for (var at = 0; at == 0 || at + length <= samples.Length; at += Step / 2)
        {
            parts.Add((at, TensorPrimitives.SumOfSquares<float>(samples.AsSpan(at, Math.Min(length, samples.Length - at)))));
        }

        return parts.First(p => p.Energy >= Sounding * parts.Max(m => m.Energy)).At;
    }

    /// <summary>After how many samples a sound is so much like itself that it could as well lie there: the period of a steady tone; none where it is not.</summary>
    public int? Period => PeriodOf(Alike);

    /// <summary>After how many samples a sound is as much like itself as this, 0 to 1; none where it is not.</summary>
    public int? PeriodOf(double alike)
    {
        var energy = Stretches.Sum(s => (double)TensorPrimitives.SumOfSquares<float>(s.Samples));
        for (var lag = ShortestPeriod; lag <= LongestPeriod; lag++)
        {
            var here = Stretches.Where(s => s.Samples.Length > 2 * lag).Sum(s => (double)TensorPrimitives.Dot<float>(s.Samples.AsSpan(lag), s.Samples.AsSpan(0, s.Samples.Length - lag)));
            if (Math.Abs(here) >= alike * energy)
            {
                return lag;
            }
        }

        return null;
    }

    /// <summary>None where a sound is too short or silent.</summary>
    public static SoundProbe? Of(AnalysedSound analysed)
    {
        var sound = analysed.Samples;
        if (sound.Length < Shortest)
        {
            return null;
        }

        var energies = new double[(sound.Length + Step - 1) / Step];
        for (var i = 0; i < energies.Length; i++)
        {
            energies[i] = TensorPrimitives.SumOfSquares<float>(sound.AsSpan(i * Step, Math.Min(Step, sound.Length - (i * Step))));
        }

        var width = Excerpt / Step;
        var first = Loudest(energies, 0, energies.Length, width);
        var beside = new[] { (From: 0, To: first), (From: first + width, To: energies.Length) }.Where(s => s.To - s.From >= width)
            .Select(s => Loudest(energies, s.From, s.To, width)).OrderByDescending(at => energies.AsSpan(at, width).ToArray().Sum()).Take(1);
        var stretches = Spread(energies).ToList();
        var most = stretches.Max(s => s.Energy);
        return most <= 0 ? null : new SoundProbe(sound.Length, [.. beside.Prepend(first).Select(e => (e * Step, Cut(sound, e * Step, Excerpt)))], [.. stretches.Where(s => s.Energy > LeastEnergy * most).Select(s => (s.At, Cut(sound, s.At, Stretch)))], analysed.Channel);
    }

    private static IEnumerable<(int At, double Energy)> Spread(double[] energies)
    {
        var width = Stretch / Step;
        var count = Math.Clamp(energies.Length / width, 1, MostStretches);
        for (var i = 0; i < count; i++)
        {
            var (from, to) = ((int)((long)energies.Length * i / count), (int)((long)energies.Length * (i + 1) / count));
            var at = Loudest(energies, from, to, width);
            yield return (at * Step, energies.AsSpan(at, Math.Min(width, to - at)).ToArray().Sum());
        }
    }

    private static int Loudest(double[] energies, int from, int to, int width)
    {
        var (best, most) = (from, -1.0);
        for (var at = from; at == from || at + width <= to; at++)
        {
            var energy = 0.0;
            for (var i = at; i < Math.Min(to, at + width); i++)
            {
                energy += energies[i];
            }

            (best, most) = energy > most ? (at, energy) : (best, most);
        }

        return best;
    }

    private static float[] Cut(float[] sound, int at, int length) => sound.AsSpan(at, Math.Min(length, sound.Length - at)).ToArray();
}
