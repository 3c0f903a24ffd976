using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>One take layer. Clips ascend by start; two neighbours may overlap only where both fade (a crossfade).</summary>
public sealed record Lane(string Name, ValueArray<Clip> Clips);
