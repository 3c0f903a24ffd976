namespace Lyrotrans.Core.Proof;

/// <summary>The outcome of a proof. Rows that failed come first.</summary>
/// <param name="Stems">Where stems went: what their sum lacks.</param>
/// <param name="Overs">Files in which samples above full scale are held at it.</param>
/// <param name="OwnWords">What nothing but the package itself says, such as its preparation.</param>
/// <param name="WithoutSound">What goes without its sound and was not accepted, in words; empty where nothing does.</param>
/// <param name="Guide">Where a guide mix came along: what the mix that is made here leaves of it.</param>
/// <param name="Accepted">What goes without its sound and was accepted by its name, in words; empty where nothing does.</param>
public sealed record ProofReport(
    string Package, DateTimeOffset At, IReadOnlyList<ProofRow> Rows, IReadOnlyList<ClipDot> Clips, IReadOnlyList<SoundResidual> Residuals,
    StemSum? Stems = null, IReadOnlyList<SoundOvers>? Overs = null, IReadOnlyList<string>? OwnWords = null, string WithoutSound = "", string Accepted = "", GuideRest? Guide = null)
{
    /// <summary>Whether nothing failed.</summary>
    public bool Passed => Failures == 0;

    /// <summary>How many rows did not pass.</summary>
    public int Failures => Rows.Count(r => !r.Passed);

    /// <summary>The one line that matters.</summary>
    public string Verdict => string.Join(' ', new[] { Outcome, Lacking, Accepted.Length > 0 ? $"Accepted: {Accepted}." : string.Empty, OwnWords is { Count: > 0 } ? $"The package's own word: {string.Join(", ", OwnWords)}." : string.Empty }.Where(w => w.Length > 0));

    /// <summary>Whether nothing is wrong but that something goes without its sound.</summary>
    public bool LacksSoundAlone => !Passed && Rows.All(r => r.Passed || r.Code is not null);

    private string Lacking => WithoutSound.Length > 0 ? $"Not proved: {WithoutSound}." : string.Empty;

    private string Outcome
    {
        get
        {
            var astray = Clips.Count(c => c.Offset != 0);
            var others = Rows.Count(r => !r.Passed && r.Code is null);
            return LacksSoundAlone ? string.Empty
                : Passed ? Clips.Count == 0 ? "The package holds what was meant." : Clips.Count == 1 ? "The one clip arrives on its sample." : $"All {Clips.Count} clips arrive on their sample."
                : astray > 0 ? $"{Clips.Count - astray} of {Clips.Count} clips arrive on their sample. {astray} {(astray == 1 ? "does" : "do")} not."
                : $"{others} {(others == 1 ? "thing is" : "things are")} not as meant.";
        }
    }

    /// <summary>The largest residual of all tracks, in dBFS; −∞ when all are bit-exact.</summary>
    public double WorstResidualDb => Residuals.Select(r => r.PeakDb).DefaultIfEmpty(double.NegativeInfinity).Max();

    /// <summary>Puts the rows that failed first.</summary>
    public static ProofReport Make(
        string package, DateTimeOffset at, IEnumerable<ProofRow> rows, IReadOnlyList<ClipDot> clips, IReadOnlyList<SoundResidual> residuals) =>
        new(package, at, InOrder(rows), clips, residuals);

    /// <summary>Rows with those that failed first.</summary>
    public static IReadOnlyList<ProofRow> InOrder(IEnumerable<ProofRow> rows) => [.. rows.OrderBy(r => r.Passed)];
}
