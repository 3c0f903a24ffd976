using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A value at a place: in samples for a gain (a linear multiplier), along the track from 0 to 1 for a pan.</summary>
public readonly record struct EditPoint(Rational Place, double Value);
