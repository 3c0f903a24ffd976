namespace Lyrotrans.Core.Pairing;

/// <summary>Channels of a track that become one of their own.</summary>
/// <param name="Name">Of that.</param>
/// <param name="Channels">Of the track, from 0, in the order in which they lie in the new one.</param>
public sealed record ChannelGroup(string Name, IReadOnlyList<int> Channels);
