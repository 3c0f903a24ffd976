namespace Lyrotrans.Core.Mapping;

/// <summary>What each kind of thing keeps. Sound keeps its samples and notes their quarters unless somebody says otherwise.</summary>
public sealed record Anchors(Anchor Audio = Anchor.Samples, Anchor Notes = Anchor.Quarters, Anchor Markers = Anchor.Samples);
