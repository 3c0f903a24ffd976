namespace Lyrotrans.Core.Clicking;

/// <summary>One click of a file.</summary>
/// <param name="Sample">Where it begins.</param>
/// <param name="LevelDb">Its peak, in dBFS.</param>
/// <param name="Hz">How high it sounds: the middle of its spectrum.</param>
public readonly record struct HeardClick(long Sample, double LevelDb, double Hz);
