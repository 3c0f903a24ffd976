namespace Lyrotrans.Core.Sound;

/// <summary>What measuring a media file's samples found. Positions in its own samples.</summary>
/// <param name="FirstSound">First sample above −120 dBFS; the length where there is none.</param>
/// <param name="EndOfSound">One past the last sample above −120 dBFS; 0 where there is none.</param>
/// <param name="Peak">Largest magnitude, 1 is full scale.</param>
/// <param name="ChannelsEqual">At least two channels, all the same to the bit.</param>
/// <param name="ClippedRuns">Runs of three or more samples at full scale.</param>
public sealed record MediaSound(long FirstSound, long EndOfSound, double Peak, bool ChannelsEqual, int ClippedRuns)
{
    public bool IsSilent => EndOfSound <= FirstSound;
}
