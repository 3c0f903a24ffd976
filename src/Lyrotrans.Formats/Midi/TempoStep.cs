namespace Lyrotrans.Formats.Midi;

/// <summary>A tempo event: from a tick on, whole microseconds a quarter.</summary>
public readonly record struct TempoStep(long Tick, int Microseconds);
