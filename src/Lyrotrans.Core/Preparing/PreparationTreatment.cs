using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>One treatment for all tracks of a kind.</summary>
public static class PreparationTreatment
{
    /// <summary>The rows, with every audio track that goes treated alike.</summary>
    public static ValueArray<TrackChoice> OfAudio(Preparation preparation, Session session, Treatment treatment)
    {
        var audio = session.Tracks.Where(t => t.Kind == TrackKind.Audio).Select(t => t.Id).ToHashSet();
        return preparation.Tracks.Select(c => audio.Contains(c.TrackId) && c.Treatment != Treatment.HoldBack ? c with { Treatment = treatment } : c).ToValueArray();
    }
}
