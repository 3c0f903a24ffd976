namespace Lyrotrans.Core.Arriving;

/// <summary>By how many samples most of what was found lies later than it was sent.</summary>
internal static class CommonShift
{
    /// <summary>Of clips that are alone in their kind on both sides, the difference that most have; where no half of them agree, the one in the middle. 0 where there are none.</summary>
    /// <param name="sent">What a clip is known by, and its start.</param>
    /// <param name="found">The same of the other side.</param>
    public static long Of<T>(IEnumerable<(T Key, long Start)> sent, IEnumerable<(T Key, long Start)> found)
        where T : notnull
    {
        var theirs = Alone(found);
        var shifts = Alone(sent).Where(s => theirs.ContainsKey(s.Key)).Select(s => theirs[s.Key] - s.Value).Order().ToList();
        if (shifts.Count == 0)
        {
            return 0;
        }

        var most = shifts.GroupBy(s => s).OrderByDescending(g => g.Count()).ThenBy(g => Math.Abs(g.Key)).First();
        return 2 * most.Count() >= shifts.Count ? most.Key : shifts[shifts.Count / 2];
    }

    private static Dictionary<T, long> Alone<T>(IEnumerable<(T Key, long Start)> clips)
        where T : notnull => clips.GroupBy(c => c.Key).Where(g => g.Count() == 1).ToDictionary(g => g.Key, g => g.First().Start);
}
