using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Cutting;

/// <summary>A track from zero as it would be cut.</summary>
/// <param name="Cut">The decision, as it would be kept.</param>
/// <param name="Name">Of the track.</param>
/// <param name="Medium">Its sound.</param>
/// <param name="Whole">Its clip as it lies now.</param>
/// <param name="Pieces">What is left of it; one that is the whole where it has no silence that is long enough, none where all of it is silent.</param>
/// <param name="ResidualPeak">The highest amplitude of what was left out; full scale is 1, and 0 says that the clips are the file to the bit.</param>
public sealed record CutTrack(TrackCut Cut, string Name, Media Medium, Clip Whole, IReadOnlyList<Clip> Pieces, double ResidualPeak)
{
    /// <summary>Whether anything is cut, and something stays.</summary>
    public bool IsCut => Pieces.Count > 0 && Kept < Whole.Length;

    /// <summary>What stays, in session samples.</summary>
    public long Kept => Pieces.Sum(p => p.Length);
}
