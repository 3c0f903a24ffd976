namespace Lyrotrans.Core.Proof;

/// <summary>An effect that is not linear on a track that several stems go through.</summary>
public sealed record BentPath(string Effect, string Track, bool OnMaster);
