using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Arriving;

/// <summary>What became of a session at the other side.</summary>
/// <param name="Causes">What all or many have in common, each said once.</param>
/// <param name="Rows">What differs beyond that, in the order of the session.</param>
/// <param name="Dots">Every clip that was sent.</param>
/// <param name="Added">Clips of the other side that are of nothing that was sent, by name and track.</param>
/// <param name="Bases">How many clips were known again by what.</param>
/// <param name="NotCompared">What could not be compared, and why.</param>
/// <param name="HasClips">Whether the other side's files say clips, or places of sound, at all.</param>
/// <param name="HasMusic">Whether both sides say tempo and notes.</param>
public sealed record ArrivalReport(
    IReadOnlyList<string> Causes, IReadOnlyList<ArrivalRow> Rows, IReadOnlyList<ArrivalDot> Dots, IReadOnlyList<string> Added, IReadOnlyDictionary<ArrivalBasis, int> Bases, IReadOnlyList<string> NotCompared, bool HasClips, bool HasMusic)
{
    /// <summary>Clips that are not there.</summary>
    public int Missing => Dots.Count(d => d.Offset is null);

    /// <summary>What could not be compared, in a sentence; empty where everything was.</summary>
    public string NotComparedWords => NotCompared.Count == 0 ? string.Empty : $"Not compared: {string.Join("; ", NotCompared)}.";

    /// <summary>Whether something was compared, each clip is known again by more than its place, and nothing differs. What was added at the other side is no difference.</summary>
    public bool IsSame => (Dots.Count > 0 || (!HasClips && HasMusic)) && Causes.Count == 0 && Rows.Count == 0 && Unsure == 0;

    private int Unsure => Bases.GetValueOrDefault(ArrivalBasis.Unsure);

    /// <summary>The one line that matters.</summary>
    public string Verdict
    {
        get
        {
            var missing = !HasClips ? string.Empty : Dots.Count == 0 ? "No clip was sent, so there is none to compare." : Missing == 0 ? string.Empty : Missing == Dots.Count ? "No clip that was sent is there." : $"{Phrases.Count(Missing, "clip")} missing.";
            var beyond = Rows.Where(r => r.Found != ArrivalComparison.NotThere).Select(r => r.Subject).Distinct().Count();
            var differ = beyond > 0 ? $"{Phrases.Count(beyond, "thing")} {(beyond == 1 ? "differs" : "differ")}{(Causes.Count > 0 ? " beyond what all have in common" : string.Empty)}." : string.Empty;
            var unsure = Unsure > 0 ? $"{Phrases.Count(Unsure, "clip")} {(Unsure == 1 ? "is" : "are")} known by place alone: unsure." : string.Empty;
            var added = Added.Count > 0 ? $"{Phrases.Count(Added.Count, "clip")} {(Added.Count == 1 ? "is" : "are")} of nothing that was sent." : string.Empty;
            var same = Causes.Count > 0 || Rows.Count > 0 ? string.Empty : Dots.Count > 0 ? $"All {Phrases.Count(Dots.Count, "clip")} arrived as sent." : HasClips ? string.Empty : HasMusic ? "What was compared arrived as sent." : "Nothing of it could be compared with what was sent.";
            return string.Join(' ', new[] { missing }.Concat(Causes).Append(differ).Append(same).Append(unsure).Append(added).Where(w => w.Length > 0));
        }
    }

    /// <summary>By what clips were known again, in words.</summary>
    public string BasisWords
    {
        get
        {
            var words = new[] { (ArrivalBasis.Sound, "by their sound"), (ArrivalBasis.Source, "by their places in their media"), (ArrivalBasis.Identifier, "by identifiers or names"), (ArrivalBasis.Unsure, "unsure") }
                .Where(w => Bases.GetValueOrDefault(w.Item1) > 0).Select(w => $"{Digits.Grouped(Bases[w.Item1])} {w.Item2}").ToList();
            return words.Count == 0 ? "No clip was known again." : $"Known again: {Phrases.List(words, "and")}.";
        }
    }
}
