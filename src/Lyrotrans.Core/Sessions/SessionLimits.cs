namespace Lyrotrans.Core.Sessions;

/// <summary>Bounds of what a session can say; what lies beyond is damage. Everything that reads one keeps to them, so that what came in can be kept.</summary>
public static class SessionLimits
{
    /// <summary>The longest span and the farthest place of anything, in samples: 23 years at 48 000 a second.</summary>
    public const long FarthestSample = 1L << 45;

    /// <summary>The most channels of a track or a medium.</summary>
    public const int MostChannels = 1024;
}
