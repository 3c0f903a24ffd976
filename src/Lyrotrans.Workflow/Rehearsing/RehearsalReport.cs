using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Rehearsing;

namespace Lyrotrans.Workflow.Rehearsing;

/// <summary>What a package would become at its receiver's.</summary>
/// <param name="Limits">How it was read.</param>
/// <param name="Moves">What would be elsewhere or otherwise, in samples.</param>
/// <param name="Sounds">Every track, as it would sound.</param>
public sealed record RehearsalReport(ReadingLimits Limits, ArrivalReport Moves, IReadOnlyList<RehearsedSound> Sounds)
{
    /// <summary>Whether nothing would be another.</summary>
    public bool IsSame => Moves.IsSame && Sounds.All(s => s.IsSame);

    /// <summary>The one line that matters.</summary>
    public string Verdict
    {
        get
        {
            if (IsSame)
            {
                return "Read with these limits, everything is where it was sent and sounds as it was sent.";
            }

            var other = Sounds.Count(s => !s.IsSame);
            var sounds = other == 0 ? "All tracks sound as sent." : $"{Digits.Grouped(other)} of {Phrases.Count(Sounds.Count, "track")} {(other == 1 ? "sounds" : "sound")} otherwise.";
            return $"{sounds} {(Moves.IsSame ? "Everything is where it was sent." : Moves.Verdict)}";
        }
    }
}
