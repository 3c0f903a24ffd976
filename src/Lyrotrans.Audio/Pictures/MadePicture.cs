namespace Lyrotrans.Audio.Pictures;

/// <summary>How a picture was made.</summary>
/// <param name="Frames">How many are seen.</param>
/// <param name="IsCopy">Whether its frames are the source's own, bit by bit, and were not coded anew.</param>
/// <param name="Why">Why they were coded anew, in words; empty for a copy.</param>
public sealed record MadePicture(long Frames, bool IsCopy, string Why);
