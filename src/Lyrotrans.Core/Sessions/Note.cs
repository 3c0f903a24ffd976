namespace Lyrotrans.Core.Sessions;

/// <summary>A note: ticks from the part's start, length in ticks, channel 1 … 16, key and velocity 0 … 127.</summary>
public readonly record struct Note(long Tick, long Length, int Channel, int Key, int Velocity, int ReleaseVelocity = 64);
