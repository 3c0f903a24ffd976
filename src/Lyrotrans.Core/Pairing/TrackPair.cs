using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Pairing;

/// <summary>Mono tracks that are the channels of one sound.</summary>
/// <param name="Tracks">Their identifiers, left or first channel first.</param>
/// <param name="Name">What the sound is called without its sides.</param>
/// <param name="Confidence">From 0 to 100.</param>
/// <param name="Reasons">What speaks for it.</param>
/// <param name="Hindrance">Why they cannot be joined as they are; null where they can.</param>
public sealed record TrackPair(ValueArray<string> Tracks, string Name, int Confidence, ValueArray<string> Reasons, string? Hindrance);
