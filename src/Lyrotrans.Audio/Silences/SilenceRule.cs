namespace Lyrotrans.Audio.Silences;

/// <summary>What counts as silence, and how much of it stays around sound. In sample frames of the file.</summary>
/// <param name="Threshold">The amplitude up to which a frame is silent, in every channel; full scale is 1, and 0 is digital silence.</param>
/// <param name="Shortest">A silence of fewer frames parts nothing; at least 1.</param>
/// <param name="Before">Frames that stay before sound.</param>
/// <param name="After">Frames that stay after sound.</param>
public readonly record struct SilenceRule(double Threshold, long Shortest, long Before, long After);
