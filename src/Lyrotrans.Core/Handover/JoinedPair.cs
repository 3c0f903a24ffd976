using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Handover;

/// <summary>A track that arrives as one for each of its channels, to be joined or panned.</summary>
/// <param name="Track">The track as it is called here.</param>
/// <param name="Parts">What it arrives as, in the order of its channels: the name of a file or of a track in the file of clips, and where it is panned to.</param>
public sealed record JoinedPair(string Track, ValueArray<(string Name, double Pan)> Parts);
