using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>One part of a track as chain formats say it, lengths in edit units.</summary>
/// <param name="Length">Of the part; a transition's overlaps the parts beside it.</param>
internal abstract record SequencePart(long Length)
{
    internal sealed record Silence(long Length) : SequencePart(Length);

    /// <param name="Length">Of the overlap.</param>
    /// <param name="Cut">Where in it a reader that knows no transitions cuts.</param>
    internal sealed record Transition(long Length, Fade Outgoing, Fade Incoming, long Cut) : SequencePart(Length);

    /// <param name="Length">Of the clip.</param>
    /// <param name="FadeIn">As a property of the clip; none where a transition says it.</param>
    internal sealed record Sound(long Length, Clip Clip, Fade FadeIn, Fade FadeOut) : SequencePart(Length);
}
