namespace Lyrotrans.Core.Time;

/// <summary>A beat of the meter map: its place in quarters from bar 1, its bar, its number in the bar (from 1) and the meter there.</summary>
public readonly record struct Beat(Rational Quarter, long Bar, int Number, MeterChange Meter);
