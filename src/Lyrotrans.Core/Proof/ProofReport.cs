namespace Lyrotrans.Core.Proof;

/// <summary>The outcome of a proof. Rows that failed come first.</summary>
/// <param name="Stems">Where stems went: what their sum lacks.</param>
/// <param name="Overs">Files in which samples above full scale are held at it.</param>
/// <param name="OwnWords">What nothing but the package itself says, such as its preparation.</param>
public sealed record ProofReport(
    string Package, DateTimeOffset At, IReadOnlyList<ProofRow> Rows, IReadOnlyList<ClipDot> Clips, IReadOnlyList<SoundResidual> Residuals,
    StemSum? Stems = null, IReadOnlyList<SoundOvers>? Overs = null, IReadOnlyList<string>? OwnWords = null)
{
    /// <summary>Whether nothing failed.</summary>
    public bool Passed => Failures == 0;

    /// <summary>How many rows did not pass.</summary>
    public int Failures => Rows.Count(r => !r.Passed);

    /// <summary>The one line that matters.</summary>
    public string Verdict => OwnWords is { Count: > 0 } ? $"{Outcome} The package's own word: {string.Join(", ", OwnWords)}." : Outcome;

    private string Outcome
    {
        get
        {
            var astray = Clips.Count(c => c.Offset != 0);
            if (Passed)
            {
                return Clips.Count == 0 ? "The package holds what was meant." : $"All {Clips.Count} clips arrive on their sample.";
            }

            return astray > 0
                ? $"{Clips.Count - astray} of {Clips.Count} clips arrive on their sample. {astray} {(astray == 1 ? "does" : "do")} not."
                : $"{Failures} {(Failures == 1 ? "thing is" : "things are")} not as meant.";
        }
    }

    /// <summary>The largest residual of all tracks, in dBFS; −∞ when all are bit-exact.</summary>
    public double WorstResidualDb => Residuals.Select(r => r.PeakDb).DefaultIfEmpty(double.NegativeInfinity).Max();

    /// <summary>Puts the rows that failed first.</summary>
    public static ProofReport Make(
        string package, DateTimeOffset at, IEnumerable<ProofRow> rows, IReadOnlyList<ClipDot> clips, IReadOnlyList<SoundResidual> residuals) =>
        new(package, at, rows.OrderBy(r => r.Passed).ToList(), clips, residuals);
}
