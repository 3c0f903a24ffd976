using System.Diagnostics;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Fuzz;

/// <summary>Runs a target over mutations for a time. What crashes, hangs or takes too much memory is kept as a file. A change that went where none before did is changed further.</summary>
/// <param name="target">What reads.</param>
/// <param name="good">Good files, at least one.</param>
/// <param name="seed">The same seed gives the same files.</param>
internal sealed class FuzzRun(FuzzTarget target, IReadOnlyList<byte[]> good, int seed)
{
    private const long MostBytes = 2L << 30;
    private const long MostFound = 256 << 20;
    private static readonly TimeSpan s_longest = TimeSpan.FromSeconds(20);
    private const int Fewest = 20;
    private readonly Coverage _coverage = new();
    private readonly List<byte[]> _found = [];
    private long _foundBytes;

    /// <summary>What the run was, or what went wrong.</summary>
    public string Said { get; private set; } = string.Empty;

    /// <returns>Whether nothing went wrong.</returns>
    public bool Run(TimeSpan time)
    {
        var clock = Stopwatch.StartNew();
        var (runs, refused, slowest) = (0L, 0L, TimeSpan.Zero);
        foreach (var first in good)
        {
            // Some fixtures are there to be refused.
            if (!Holds(first, $"seed-{target.Name}", out _))
            {
                return false;
            }
        }

        // On a busy machine the good files alone may take as long.
        clock.Restart();
        while (clock.Elapsed < time || runs < Fewest)
        {
            var random = new Random(unchecked(seed + (int)runs));
            var bytes = FuzzMutation.Of(Pick(random), Pick(random), random);
            var began = clock.Elapsed;
            if (!Holds(bytes, $"{target.Name}-{seed}-{runs}", out var wasRefused))
            {
                return false;
            }

            runs++;
            refused += wasRefused ? 1 : 0;
            slowest = TimeSpan.FromTicks(Math.Max(slowest.Ticks, (clock.Elapsed - began).Ticks));
        }

        Said = $"{runs} files in {clock.Elapsed.TotalSeconds:0} s with seed {seed}, {refused} refused with a clear error, the slowest {slowest.TotalMilliseconds:0} ms, "
            + (_coverage.Branches == 0 ? "not guided" : $"{_found.Count} that went a new way over {_coverage.Branches} branches");
        return true;
    }

    // Half of the time what went a new way: there is more of it every minute, and the good files must not be forgotten.
    private byte[] Pick(Random random) => _found.Count > 0 && random.Next(2) == 0 ? _found[random.Next(_found.Count)] : good[random.Next(good.Count)];

    private bool Holds(byte[] bytes, string name, out bool refused)
    {
        Coverage.Clear();
        if (Try(bytes, out refused) is { } problem)
        {
            var kept = Path.Combine(Path.GetTempPath(), $"fuzz-{name}.bin");
            File.WriteAllBytes(kept, bytes);
            Said = $"{problem}\nThe file is kept as {kept}. Mend it, and let it stay under tests/fuzz/corpus/{target.Name}.";
            return false;
        }

        if (_coverage.IsNew() && _foundBytes + bytes.Length < MostFound)
        {
            _found.Add(bytes);
            _foundBytes += bytes.Length;
        }

        return true;
    }

    private string? Try(byte[] bytes, out bool refused)
    {
        string? problem = null;
        var no = false;
        var done = new ManualResetEventSlim();
        var thread = new Thread(() =>
        {
            try
            {
                var before = GC.GetAllocatedBytesForCurrentThread();
                target.Read(bytes);
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
