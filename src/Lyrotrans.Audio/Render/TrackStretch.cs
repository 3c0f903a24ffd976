using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Render;

/// <summary>A stretch of a track that is alike all along.</summary>
/// <param name="End">One past its last session sample.</param>
/// <param name="Clip">The only clip that sounds, where its samples go through untouched.</param>
/// <param name="IsSilent">Whether no clip sounds.</param>
public readonly record struct TrackStretch(long End, Clip? Clip, bool IsSilent);
