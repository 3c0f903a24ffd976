using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Aaf;

/// <summary>What a segment holds: clips from its own start on, and its length, in samples of the composition's rate.</summary>
internal sealed record AafSpan(IReadOnlyList<EditClip> Clips, Rational Length)
{
    public static AafSpan Silence(Rational length) => new([], length);
}
