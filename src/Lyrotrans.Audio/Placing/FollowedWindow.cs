namespace Lyrotrans.Audio.Placing;

/// <summary>Where a stretch of a sound lies in another.</summary>
/// <param name="At">The middle of what sounds in it, in samples of the other's rate from the sound's first.</param>
/// <param name="Place">The other's sample that the sound's first would lie on if all of it lay as this stretch does.</param>
/// <param name="Correlation">0 to 1; 1 where the other holds the sound alone.</param>
/// <param name="Gain">Of the other over the sound, as a ratio; below 0 where its polarity is the other one.</param>
internal readonly record struct FollowedWindow(long At, double Place, double Correlation, double Gain);
