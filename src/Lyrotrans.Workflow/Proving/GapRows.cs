using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;

namespace Lyrotrans.Workflow.Proving;

/// <summary>What goes without its sound, in a proof: a row for each, failed unless it was accepted by its name.</summary>
public static class GapRows
{
    /// <summary>The code of a kind.</summary>
    public static FindingCode CodeOf(SoundGapKind kind) => kind switch
    {
        SoundGapKind.Missing => PackageCodes.WithoutSound,
        SoundGapKind.Contradicted => PackageCodes.Contradicted,
        SoundGapKind.Effect => PackageCodes.WithoutEffect,
        _ => PackageCodes.WithoutInstrument,
    };

    /// <summary>The gaps with those accepted that a person accepts now, besides those of the preparation.</summary>
    public static SoundGaps Accepting(this SoundGaps gaps, IReadOnlyCollection<string> names) =>
        names.Count == 0 ? gaps : gaps with { All = [.. gaps.All.Select(g => names.Contains(g.Name) ? g with { IsAccepted = true } : g)] };

    /// <summary>The report with what goes without its sound.</summary>
    public static ProofReport With(ProofReport report, SoundGaps gaps) => report with
    {
        Rows = ProofReport.InOrder(report.Rows.Concat(gaps.All.Select(Row))),
        WithoutSound = gaps.Words(accepted: false),
        Accepted = gaps.Words(accepted: true),
    };

    /// <summary>What is not accepted, as findings.</summary>
    public static IEnumerable<Finding> Findings(IEnumerable<SoundGap> gaps) => gaps.Where(g => !g.IsAccepted).Select(g => new Finding(CodeOf(g.Kind), g.Of, $"{g.Of}: {g.Why}. {Lacks(g)} Accept it as \"{g.Name}\"."));

    private static ProofRow Row(SoundGap gap) => new(gap.Of, "sound", "there", $"{gap.Why}: {Phrases.Count(gap.Objects.Count, gap.Kind is SoundGapKind.Missing or SoundGapKind.Contradicted ? "clip" : "track")}", gap.IsAccepted ? "accepted" : $"not accepted as \"{gap.Name}\"", gap.IsAccepted, CodeOf(gap.Kind).ToString());

    private static string Lacks(SoundGap gap) => gap.Objects.Count == 1 ? $"{gap.Objects[0]} lacks it." : $"{Phrases.Count(gap.Objects.Count, "clip")} lack it.";
}
