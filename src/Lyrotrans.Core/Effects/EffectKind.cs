using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Effects;

/// <summary>An effect that can be rendered here.</summary>
/// <param name="IsLinear">Whether the effect of a sum is the sum of the effects; stems of a session with others do not sum to its mix.</param>
public sealed record EffectKind(string Name, bool IsLinear, ValueArray<EffectParameter> Parameters)
{
    /// <summary>The name of the setting by which an effect that is not linear runs at a multiple of the rate: 1, 2 or 4.</summary>
    public const string Oversampling = "oversampling";
}
