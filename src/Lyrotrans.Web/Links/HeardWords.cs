using Lyrotrans.Core.Naming;
using Lyrotrans.Storage.Model;

namespace Lyrotrans.Web.Links;

/// <summary>What was heard of a package and by whom, in words.</summary>
public static class HeardWords
{
    /// <param name="paths">Of its sound files.</param>
    /// <param name="marks">What was said of them.</param>
    public static string Of(IReadOnlyList<string> paths, IReadOnlyList<HeardMark> marks)
    {
        var (heard, faults) = (marks.Select(m => m.Path).Where(paths.Contains).Distinct().Count(), marks.Count(m => m.Kind == HeardKind.Fault));
        if (heard == 0)
        {
            return $"None of {Phrases.Count(paths.Count, "file")} was listened to.";
        }

        var by = marks.GroupBy(m => m.By).OrderByDescending(g => g.Count()).Select(g => $"{g.Key} ({Digits.Grouped(g.Select(m => m.Path).Distinct().Count())})").ToList();
        return $"{(heard == paths.Count ? $"All {Phrases.Count(heard, "file")}" : $"{Digits.Grouped(heard)} of {Phrases.Count(paths.Count, "file")}")} heard, by {Phrases.List(by, "and")}{(faults > 0 ? $"; {Phrases.Count(faults, "fault")} marked" : "; no fault")}.";
    }
}
