namespace Lyrotrans.Core.Proof;

/// <summary>Samples of a file that were above full scale and are held at it.</summary>
/// <param name="PeakDb">The loudest of them, in dB above full scale.</param>
public sealed record SoundOvers(string Path, long Samples, double PeakDb);
