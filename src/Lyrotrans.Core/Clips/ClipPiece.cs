using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Clips;

/// <summary>A clip to be, before its medium is known: what it is made of in the session, and what of it stays beside the sound.</summary>
/// <param name="Clip">Place, fades and gain as the file will say them; its media and offset are those of the session until they are settled.</param>
/// <param name="Baked">The clips whose gain, fades or ride become part of the sound; none where it is the media's own.</param>
internal sealed record ClipPiece(Clip Clip, IReadOnlyList<Clip> Baked)
{
    /// <summary>Samples that the clip's edges moved by, to whole frames.</summary>
    public long Moved { get; init; }

    public bool IsMade => Baked.Count > 0;
}
