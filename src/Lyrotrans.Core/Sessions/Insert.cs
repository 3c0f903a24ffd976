using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>An effect in a track's signal path. Latency in samples at the session's rate.</summary>
public sealed record Insert(string Effect, ValueArray<Parameter> Parameters = default, bool Bypassed = false, long Latency = 0);
