using Lyrotrans.Web.Desks;
using Lyrotrans.Workflow.Cutting;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>Tracks from zero as they would be cut, on one timeline.</summary>
/// <param name="Desk">The transfer.</param>
/// <param name="Tracks">What was measured.</param>
/// <param name="Rule">By which.</param>
/// <param name="Track">The one that was asked for; none is all.</param>
public sealed record CutPreview(Desk Desk, IReadOnlyList<CutTrack> Tracks, CutRule Rule, string? Track)
{
    /// <summary>Tracks that are drawn, at most; of others the numbers stand.</summary>
    public const int MostDrawn = 60;

    /// <summary>One past the last session sample of the timeline.</summary>
    public long End => Tracks.Select(t => t.Whole.End).DefaultIfEmpty(0).Max();

    /// <summary>How many would be cut.</summary>
    public int Cut => Tracks.Count(t => t.IsCut);

    /// <summary>Into how many clips.</summary>
    public int Clips => Tracks.Where(t => t.IsCut).Sum(t => t.Pieces.Count);
}
