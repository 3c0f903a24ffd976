namespace Lyrotrans.Core.Sound;

/// <summary>What measuring a media file's samples found. Positions in its own samples.</summary>
/// <param name="FirstSound">First sample above −120 dBFS; the length where there is none.</param>
/// <param name="EndOfSound">One past the last sample above −120 dBFS; 0 where there is none.</param>
/// <param name="Peak">Largest magnitude, 1 is full scale.</param>
/// <param name="SideDb">Largest difference between the first two channels in dBFS, −∞ where they are the same; none for mono, or where it was not measured.</param>
/// <param name="ClippedRuns">Runs of three or more samples at full scale.</param>
public sealed record MediaSound(long FirstSound, long EndOfSound, double Peak, double? SideDb, int ClippedRuns)
{
    private const double SameDb = -90;

    /// <summary>Whether nothing in it is above −120 dBFS.</summary>
    public bool IsSilent => EndOfSound <= FirstSound;

    /// <summary>Whether the first two channels are the same, or within −90 dB of each other: two of them can go as one.</summary>
    public bool IsMonoInStereo => SideDb <= SameDb && !IsSilent;
}
