namespace Lyrotrans.Core.Sound;

/// <summary>A place in a sound file where a machine damaged it.</summary>
/// <param name="Kind">What it is.</param>
/// <param name="Channel">From 0.</param>
/// <param name="Sample">Where it begins, in the file's own samples.</param>
/// <param name="Length">In samples; 1 for a click.</param>
public readonly record struct SoundFault(SoundFaultKind Kind, int Channel, long Sample, long Length);
