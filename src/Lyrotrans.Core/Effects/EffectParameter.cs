namespace Lyrotrans.Core.Effects;

/// <summary>One setting of an effect; its unit is in its name.</summary>
/// <param name="Usual">The value where a session does not say one.</param>
public sealed record EffectParameter(string Name, double Usual, double Least, double Most);
