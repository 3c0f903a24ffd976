using System.Globalization;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Returning;

/// <summary>What is said of a file that came back beside its place: what was cut off, and when it is another sound.</summary>
internal static class ReturnedNotes
{
    private const int MostTold = 6;
    private const double Quiet = 1e-4;
    private const int Block = 1 << 16;

    /// <param name="parts">What it is of, with their gains in it.</param>
    /// <param name="sound">The file, at the rate at which it lies there.</param>
    /// <param name="start">The sample of what was sent that its first lies on.</param>
    /// <param name="length">In those samples.</param>
    /// <param name="drift">How much faster it runs.</param>
    /// <param name="rate">Of what was sent.</param>
    /// <param name="stop">Heeded all along.</param>
    public static IEnumerable<string> Of(IReadOnlyList<(SentSound Sound, double Gain)> parts, SoughtSound sound, double start, double length, double drift, SampleRate rate, CancellationToken stop) =>
        Ends([.. parts.Select(p => p.Sound)], start, start + (length * (1 + drift)), stop)
            .Concat(Differences(SoundDifferences.Between([.. parts.Select(p => (p.Sound.Sound, p.Gain))], sound.Sound, start / rate.PerSecond.ToDouble(), drift, stop)));

    /// <summary>What of all of them sounds before a sample, or from another on.</summary>
    private static IEnumerable<string> Ends(IReadOnlyList<SentSound> parts, double start, double end, CancellationToken stop)
    {
        var (first, last) = (parts.Min(p => First(p, (long)start, stop) ?? long.MaxValue), parts.Max(p => Last(p, (long)Math.Ceiling(end), stop) ?? long.MinValue));
        if (first < (long)start - 1)
        {
            yield return $"Cut at its beginning: {Phrases.Count((long)start - first, "sample")}.";
        }

        if (last > (long)Math.Ceiling(end) + 1)
        {
            yield return $"Cut at its end: {Phrases.Count(last - (long)Math.Ceiling(end) + 1, "sample")}.";
        }
    }

    private static long? First(SentSound part, long before, CancellationToken stop)
    {
        using var source = part.Sound.Open();
        var block = Planar(source);
        for (long at = 0; at < before; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, before - at);
            source.Read(at, count, block);
            for (var i = 0; i < count; i++)
            {
                if (Sounds(block, i))
                {
                    return at + i;
                }
            }
        }

        return null;
    }

    private static long? Last(SentSound part, long from, CancellationToken stop)
    {
        using var source = part.Sound.Open();
        var block = Planar(source);
        for (var end = source.Length; end > Math.Max(0, from); end -= Block)
        {
            stop.ThrowIfCancellationRequested();
            var at = Math.Max(Math.Max(0, from), end - Block);
            source.Read(at, (int)(end - at), block);
            for (var i = (int)(end - at) - 1; i >= 0; i--)
            {
                if (Sounds(block, i))
                {
                    return at + i;
                }
            }
        }

        return null;
    }

    private static double[][] Planar(ISampleSource source) => [.. Enumerable.Range(0, source.Channels).Select(_ => new double[Block])];

    private static bool Sounds(double[][] block, int i) => Array.Exists(block, c => Math.Abs(c[i]) > Quiet);

    private static IEnumerable<string> Differences(IReadOnlyList<SoundDifference> differences)
    {
        foreach (var kind in differences.GroupBy(d => d.Kind))
        {
            var told = kind.Take(MostTold).Select(d => string.Create(CultureInfo.InvariantCulture, $"{d.From:0.0} s to {d.To:0.0} s")).ToList();
            var times = kind.Count() > MostTold ? $"{string.Join(", ", told)} and {Phrases.Count(kind.Count() - MostTold, "more time")}" : Phrases.List(told, "and");
            yield return kind.Key switch
            {
                SoundDifferenceKind.Another => $"It is another sound from {times}.",
                SoundDifferenceKind.Silent => $"It is silent from {times}, and what it is of is not.",
                _ => $"It sounds from {times}, and what it is of does not.",
            };
        }
    }
}
