using System.Diagnostics;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Fuzz;

/// <summary>Runs a target over mutations for a time. What crashes, hangs or takes too much memory is kept as a file.</summary>
internal static class FuzzRun
{
    private const long MostBytes = 2L << 30;
    private static readonly TimeSpan s_longest = TimeSpan.FromSeconds(20);

    public static bool Run(List<byte[]> corpus, Action<byte[]> target, Func<byte[], byte[], Random, byte[]> mutate, TimeSpan time, int seed)
    {
        var clock = Stopwatch.StartNew();
        var (runs, refused, slowest) = (0L, 0L, TimeSpan.Zero);
        foreach (var good in corpus)
        {
            try
            {
                target(good);
            }
            catch (BadInputException)
            {
                // Some fixtures are there to be refused.
            }
        }

        while (clock.Elapsed < time)
        {
            var random = new Random(unchecked(seed + (int)runs));
            var bytes = mutate(corpus[random.Next(corpus.Count)], corpus[random.Next(corpus.Count)], random);
            var began = clock.Elapsed;
            if (Try(target, bytes, out var wasRefused) is { } problem)
            {
                var kept = Path.Combine(Path.GetTempPath(), $"fuzz-{seed}-{runs}.bin");
                File.WriteAllBytes(kept, bytes);
                Console.WriteLine($"{problem}\nThe file is kept as {kept}.");
                return false;
            }

            runs++;
            refused += wasRefused ? 1 : 0;
            slowest = TimeSpan.FromTicks(Math.Max(slowest.Ticks, (clock.Elapsed - began).Ticks));
        }

        Console.WriteLine($"seed {seed}: {runs} files in {clock.Elapsed.TotalSeconds:0} s, {refused} refused with a clear error, the slowest {slowest.TotalMilliseconds:0} ms");
        return runs > 0;
    }

    private static string? Try(Action<byte[]> target, byte[] bytes, out bool refused)
    {
        string? problem = null;
        var no = false;
        var done = new ManualResetEventSlim();
        var thread = new Thread(() =>
        {
            try
            {
                var before = GC.GetAllocatedBytesForCurrentThread();
                target(bytes);
                var taken = GC.GetAllocatedBytesForCurrentThread() - before;
                problem = taken > MostBytes ? $"It took {taken} bytes." : null;
            }
            catch (BadInputException)
            {
                no = true;
            }
            catch (Exception other)
            {
                problem = other.ToString();
            }

            done.Set();
        })
        {
            IsBackground = true,
        };
        thread.Start();
        problem = done.Wait(s_longest) ? problem : $"It hangs: nothing after {s_longest.TotalSeconds} s.";
        refused = no;
        return problem;
    }
}
