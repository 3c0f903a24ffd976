using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>An item of a track as the document has it: a clip up to its cuts, or a transition around one.</summary>
/// <param name="Media">What a clip refers to; null where it is missing, or for a transition.</param>
/// <param name="Start">On the timeline, in samples of the session.</param>
/// <param name="Length">In samples of the session.</param>
/// <param name="SourceOffset">From the beginning of its medium, in samples of the session; null for a transition.</param>
public sealed record EditItem(string? Media, Rational Start, Rational Length, Rational? SourceOffset)
{
    /// <summary>Whether it is a transition and no clip.</summary>
    public bool IsTransition => SourceOffset is null;
}
