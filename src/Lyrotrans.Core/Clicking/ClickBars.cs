namespace Lyrotrans.Core.Clicking;

/// <summary>Where bars begin, by the clicks that differ from the others: louder or quieter, higher or lower.</summary>
internal sealed class ClickBars
{
    // Two clicks of one kind are nearer than this to each other, in dB and in octaves.
    private const double LevelStep = 1;
    private const double PitchStep = 0.12;
    private const double Regular = 0.7;
    private const double Periodic = 0.8;
    private const int LongestPattern = 4;
    private const int MostBeats = 64;
    private const int UsualBeats = 4;

    private ClickBars(IReadOnlyList<int> starts, ClickAccents by, bool grouped) => (Starts, By, IsGrouped) = (starts, by, grouped);

    /// <summary>The first beat of each bar, ascending; those of clicks that are missing too.</summary>
    public IReadOnlyList<int> Starts { get; }

    /// <summary>What told them.</summary>
    public ClickAccents By { get; }

    /// <summary>Whether a bar has groups of different lengths, as 2+2+3 has.</summary>
    public bool IsGrouped { get; }

    /// <param name="beats">Clicks with their beats.</param>
    public static ClickBars Of(IReadOnlyList<(HeardClick Click, int Beat)> beats)
    {
        var kinds = Kinds(beats, c => c.LevelDb, LevelStep, ClickAccents.Level).Concat(Kinds(beats, c => Math.Log2(c.Hz), PitchStep, ClickAccents.Pitch)).Where(k => k.Beats.Count > 1).ToList();

        // Of kinds that come as regularly the loudest begins the bar, of those as loud the highest.
        var best = kinds.Where(k => k.MeanGap >= 2 && k.Alike(1) >= Regular)
            .OrderByDescending(k => Math.Round(k.LevelDb)).ThenByDescending(k => k.Hz).FirstOrDefault();
        if (best is not null)
        {
            return new ClickBars(Filled(best.WithoutCountIn(), beats), best.By, false);
        }

        var (kind, groups) = kinds.Where(k => k.MeanGap >= 2).OrderByDescending(k => Math.Round(k.LevelDb)).ThenByDescending(k => k.Hz)
            .SelectMany(k => Enumerable.Range(2, LongestPattern - 1).Where(n => k.Alike(n) >= Periodic).Select(n => (k, n))).FirstOrDefault();
        return kind is not null
            ? new ClickBars([.. kind.Beats.Where((_, i) => i % groups == 0)], kind.By, true)
            : new ClickBars([.. Enumerable.Range(0, (beats[^1].Beat / UsualBeats) + 1).Select(b => b * UsualBeats)], ClickAccents.None, false);
    }

    // A bar line whose click is missing lies where the bar before it ends, if that is what the next one says too.
    private static List<int> Filled(IReadOnlyList<int> starts, IReadOnlyList<(HeardClick Click, int Beat)> beats)
    {
        var heard = beats.Select(b => b.Beat).ToHashSet();
        var filled = new List<int> { starts[0] };
        foreach (var start in starts.Skip(1))
        {
            var bar = filled.Count > 1 ? filled[^1] - filled[^2] : start - filled[^1];
            while (start - filled[^1] > bar && (start - filled[^1]) % bar == 0 && !heard.Contains(filled[^1] + bar))
            {
                filled.Add(filled[^1] + bar);
            }

            filled.Add(start);
        }

        return filled;
    }

    private static IEnumerable<Kind> Kinds(IReadOnlyList<(HeardClick Click, int Beat)> beats, Func<HeardClick, double> of, double step, ClickAccents by)
    {
        var sorted = beats.OrderBy(b => of(b.Click)).ToList();
        var from = 0;
        for (var i = 1; i <= sorted.Count; i++)
        {
            if (i == sorted.Count || of(sorted[i].Click) - of(sorted[i - 1].Click) > step)
            {
                var kind = sorted[from..i];
                yield return new Kind([.. kind.Select(k => k.Beat).Order()], kind.Average(k => k.Click.LevelDb), kind.Average(k => k.Click.Hz), by);
                from = i;
            }
        }
    }

    private sealed record Kind(IReadOnlyList<int> Beats, double LevelDb, double Hz, ClickAccents By)
    {
        private readonly int[] _gaps = [.. Beats.Zip(Beats.Skip(1), (a, b) => b - a)];

        /// <summary>Beats from one to the next.</summary>
        public double MeanGap => _gaps.Max() > MostBeats ? 0 : _gaps.Average();

        /// <summary>Of the gaps, how many are as long as the one so many before.</summary>
        public double Alike(int period) => _gaps.Length <= period ? (period == 1 ? 1 : 0) : Enumerable.Range(period, _gaps.Length - period).Average(i => _gaps[i] == _gaps[i - period] ? 1.0 : 0);

        /// <summary>The beats without those of a count-in that are all alike.</summary>
        public IReadOnlyList<int> WithoutCountIn() => [.. Beats.Skip(_gaps.TakeWhile(g => g == 1).Count())];
    }
}
