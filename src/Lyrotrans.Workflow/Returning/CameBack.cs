using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Workflow.Returning;

/// <summary>What a file that came back is of, by its sound, and what was done to it on the way.</summary>
/// <param name="Name">The file.</param>
/// <param name="Kind">What is said of it first.</param>
public sealed record CameBack(string Name, CameBackKind Kind)
{
    private const double GainBound = 0.1;

    // Of a sum so many are named.
    private const int MostNamed = 6;

    /// <summary>The sent tracks that it is of, the one with the most of it first; none where it is of nothing.</summary>
    public IReadOnlyList<CameBackPart> Parts { get; init; } = [];

    /// <summary>Sent tracks that are the same as the first.</summary>
    public IReadOnlyList<string> Same { get; init; } = [];

    /// <summary>Samples a second that places are counted in: the sent session's.</summary>
    public SampleRate Rate { get; init; } = SampleRate.Hz48000;

    /// <summary>Samples a second that the file says it has.</summary>
    public SampleRate Said { get; init; } = SampleRate.Hz48000;

    /// <summary>The sample of what was sent that its first sample lies on, with its fraction.</summary>
    public double Start { get; init; }

    /// <summary>By how many millionths it runs faster than what was sent; 0 where none was measured.</summary>
    public double DriftPpm { get; init; }

    /// <summary>By how many samples it is off at its end for that.</summary>
    public double DriftsFor { get; init; }

    /// <summary>Whether its polarity is the other one.</summary>
    public bool IsInverted { get; init; }

    /// <summary>How much stretches of it are like the first of its parts, 0 to 1.</summary>
    public double Likeness { get; init; }

    /// <summary>How much of its energy is its parts, 0 to 1.</summary>
    public double Explained { get; init; }

    /// <summary>Whether there is no other place or track that it could be of.</summary>
    public bool IsSure { get; init; }

    /// <summary>How its samples came to be at another speed; null where they did not.</summary>
    public RateMistake? Mistake { get; init; }

    /// <summary>What else was found, in sentences.</summary>
    public IReadOnlyList<string> Notes { get; init; } = [];

    /// <summary>The nearest whole sample.</summary>
    public long Nearest => (long)Math.Round(Start, MidpointRounding.ToEven);

    /// <summary>The one line that matters.</summary>
    public string Verdict => Kind switch
    {
        CameBackKind.Unread => string.Join(' ', Notes),
        CameBackKind.Silent => "Silent from its start to its end.",
        CameBackKind.New => "Nothing that was sent was found in it: a new part, or one that was changed beyond knowing.",
        _ => string.Join(' ', new[] { $"{OfWords}, {PlaceWords}.", MistakeWords, SpeedWords, GainWords, IsInverted ? "Its polarity is inverted." : string.Empty }.Concat(Notes).Where(w => w.Length > 0)),
    };

    private string OfWords => (Kind, IsSure) switch
    {
        (CameBackKind.Mix, true) => $"A sum of {Named}",
        (CameBackKind.Mix, false) => $"Perhaps a sum of {Named}",
        (_, true) => $"Of {Alone}",
        _ => $"Perhaps of {Alone}",
    };

    private string Alone => Same.Count == 0 ? Parts[0].Name : $"{Phrases.List([Parts[0].Name, .. Same], "or")}, which are the same";

    private string Named => Parts.Count <= MostNamed ? Phrases.List([.. Parts.Select(Words)], "and") : $"{string.Join(", ", Parts.Take(MostNamed).Select(Words))} and {Phrases.Count(Parts.Count - MostNamed, "more track")}";

    private static string Words(CameBackPart part) => string.Create(CultureInfo.InvariantCulture, $"{part.Name} ({(part.GainDb < 0 ? "−" : "+")}{Math.Abs(part.GainDb):0.0} dB)");

    private string PlaceWords => Nearest == 0 ? $"from the same start{Fraction}" : $"{Digits.Grouped(Math.Abs(Nearest))} samples {(Nearest > 0 ? "after the start" : "before the start")}{Fraction}";

    private string Fraction => Math.Abs(Start - Nearest) < 0.05 ? string.Empty : string.Create(CultureInfo.InvariantCulture, $" ({(Start < 0 ? "−" : "+")}{Math.Abs(Start):0.0})");

    private string MistakeWords => Mistake is { } made ? $"{char.ToUpperInvariant(made.Words[0])}{made.Words[1..]}." : string.Empty;

    private string SpeedWords => DriftPpm == 0 ? string.Empty : string.Create(CultureInfo.InvariantCulture, $"It runs {Math.Abs(DriftPpm):0.0} ppm {(DriftPpm > 0 ? "fast" : "slow")}: {Math.Abs(DriftsFor):0.0} samples at its end.");

    private string GainWords => Kind == CameBackKind.Mix || Math.Abs(Parts[0].GainDb) < GainBound ? string.Empty : string.Create(CultureInfo.InvariantCulture, $"{Math.Abs(Parts[0].GainDb):0.0} dB {(Parts[0].GainDb > 0 ? "louder" : "softer")}.");
}
