namespace Lyrotrans.Core.Sessions;

/// <summary>Bounds of what a session can say; what lies beyond is damage. Everything that reads one keeps to them, so that what came in can be kept.</summary>
public static class SessionLimits
{
    /// <summary>The longest span and the farthest place of anything, in samples: 23 years at 48 000 a second.</summary>
    public const long FarthestSample = 1L << 45;

    /// <summary>The farthest place and the longest span on the grid, in quarters: 97 days at 120 a minute. Ratios beyond grow without end where they are added up.</summary>
    public const long FarthestQuarter = 1L << 24;

    /// <summary>The fastest tempo, in quarters a minute: 48 samples a quarter at 48 000 a second.</summary>
    public const long FastestTempo = 60_000;

    /// <summary>The most characters of a note to a track or a clip.</summary>
    public const int LongestNote = 500;

    /// <summary>The most channels of a track or a medium.</summary>
    public const int MostChannels = 1024;
}
