namespace Lyrotrans.Workflow.Tests;

/// <summary>A made-up part that can be played at any speed and from any time: notes that are struck and die away, each at a pitch, place and level of its own.</summary>
internal sealed class PlayedPart
{
    private const double Rings = 1.2;
    private readonly List<(double At, double Hz, double Level, double Dies)> _notes = [];

    public PlayedPart(int seed, double seconds)
    {
        var random = new Random(seed);
        for (var at = 0.05 + random.NextDouble(); at < seconds - Rings; at += 0.08 + (0.4 * random.NextDouble()))
        {
            _notes.Add((at, 80 * Math.Pow(40, random.NextDouble()), 0.05 + (0.1 * random.NextDouble()), 3 + (12 * random.NextDouble())));
        }
    }

    /// <summary>Its samples: sample n is what sounds at <paramref name="from"/> + n × <paramref name="step"/> seconds.</summary>
    public double[] Play(double from, double step, int count)
    {
        var samples = new double[count];
        foreach (var (at, hz, level, dies) in _notes)
        {
            var (begin, end) = ((long)Math.Ceiling((at - from) / step), (long)Math.Floor((at + Rings - from) / step));
            for (var n = Math.Max(0, begin); n < Math.Min(count, end); n++)
            {
                var t = from + (n * step) - at;

                // Two partials, and no click at either end.
                var shape = Math.Min(1, t * 400) * Math.Exp(-dies * t) * Math.Min(1, (Rings - t) * 20);
                samples[n] += level * shape * (Math.Sin(2 * Math.PI * hz * t) + (0.4 * Math.Sin(2 * Math.PI * 2.01 * hz * t)));
            }
        }

        return samples;
    }
}
