using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>What a segment holds: clips from its own start on, and its length, in samples of the composition's rate.</summary>
internal sealed record ChainSpan(IReadOnlyList<EditClip> Clips, Rational Length)
{
    public static ChainSpan Silence(Rational length) => new([], length);
}
