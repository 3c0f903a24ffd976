using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// How far a written tempo map strays from the session's: the largest distance at any beat, in samples at the session's rate,
/// where that is, and how many tempo events it takes.
/// </summary>
public sealed record TempoDrift(double Samples, MusicalPosition At, int Events);
