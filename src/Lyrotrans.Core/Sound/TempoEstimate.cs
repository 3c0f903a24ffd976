namespace Lyrotrans.Core.Sound;

/// <summary>The tempo that the onsets of a session's sound repeat at.</summary>
/// <param name="QuartersPerMinute">Or half or double of it: onsets cannot tell.</param>
/// <param name="Confidence">0 … 1: how much of the onsets' energy comes again a beat later.</param>
/// <param name="ConfidenceOfMap">The same for the tempo that the map says, its half and its double.</param>
public sealed record TempoEstimate(double QuartersPerMinute, double Confidence, double ConfidenceOfMap)
{
    private const double Sure = 0.15;
    private const double Close = 0.6;

    /// <summary>Whether the sound plainly has a tempo, and the map's is not it.</summary>
    public bool Disagrees => Confidence >= Sure && ConfidenceOfMap < Close * Confidence;
}
