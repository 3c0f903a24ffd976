namespace Lyrotrans.Core.Flags;

/// <summary>A kind of trouble.</summary>
/// <param name="Code">Stable, for tests and filters, such as <c>hidden-track</c>.</param>
/// <param name="Cost">What it would cost if the session were sent as it is.</param>
/// <param name="Many">What is said of several, with <c>#</c> for how many.</param>
/// <param name="Costs">What it would cost, in a sentence.</param>
public sealed record FlagKind(string Code, FlagCost Cost, string Many, string Costs);
