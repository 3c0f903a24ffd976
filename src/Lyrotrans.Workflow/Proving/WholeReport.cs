using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Proof;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>What a package says of itself, held against nothing else. It is never called proved: what was meant is not known.</summary>
/// <param name="Package">The file.</param>
/// <param name="Rows">What was compared.</param>
/// <param name="Signer">Who signed; null where nobody did.</param>
/// <param name="Whose">Whose key it is; null where it is not known.</param>
/// <param name="Gaps">What its manifest says goes without its sound.</param>
public sealed record WholeReport(string Package, IReadOnlyList<ProofRow> Rows, PublicKey? Signer, string? Whose, IReadOnlyList<SoundGap> Gaps)
{
    /// <summary>How many rows did not pass.</summary>
    public int Failures => Rows.Count(r => !r.Passed);

    /// <summary>Whether every file is as the manifest says, and the manifest as it was signed.</summary>
    public bool IsWhole => Failures == 0;

    /// <summary>What goes without its sound and was not accepted.</summary>
    public IReadOnlyList<SoundGap> Open => [.. Gaps.Where(g => !g.IsAccepted)];

    /// <summary>The one line that matters.</summary>
    public string Verdict => !IsWhole ? $"Not whole: {Failures} {(Failures == 1 ? "thing is" : "things are")} not as it says of itself."
        : Signer is null ? $"Whole, not signed.{Lacking}"
        : Whose is null ? $"Whole, signer unknown: {Signer.Words}.{Lacking}"
        : $"Whole, signed by {Whose}: {Signer.Words}.{Lacking}";

    private string Lacking => Gaps.Count == 0 ? string.Empty : $" It says that it goes without: {string.Join(", ", Gaps.Select(g => $"{g.Name}{(g.IsAccepted ? " (accepted)" : string.Empty)}"))}.";
}
