using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Midi;

/// <summary>A place where a written tempo map is measured: in quarters from bar 1, in exact ticks, and in seconds from tick 0.</summary>
public readonly record struct CheckPoint(Rational Quarter, Rational Tick, Rational Seconds);
