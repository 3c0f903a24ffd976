namespace Lyrotrans.Audio.Placing;

/// <summary>A time in which a sound is not what it is of.</summary>
/// <param name="From">In seconds from its first sample.</param>
/// <param name="To">The same, of its end.</param>
/// <param name="Kind">What it is instead.</param>
public readonly record struct SoundDifference(double From, double To, SoundDifferenceKind Kind);
