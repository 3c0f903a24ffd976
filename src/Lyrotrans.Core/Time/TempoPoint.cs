namespace Lyrotrans.Core.Time;

/// <summary>
/// A tempo from a place on: <paramref name="Quarter"/> in quarter notes from bar 1, tempo in quarter notes a minute
/// (above zero). A ramp moves in a straight line, over quarters, to the next point's tempo.
/// </summary>
public readonly record struct TempoPoint(Rational Quarter, Rational QuartersPerMinute, bool Ramp = false);
