using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Proposing;

/// <summary>Something that the receiver would be glad of and that does not go yet.</summary>
/// <param name="Id">Unique among the proposals of a preparation.</param>
/// <param name="Words">What would go, such as <c>guide mix without Celesta</c>.</param>
/// <param name="Reason">Why, in a sentence.</param>
/// <param name="Apply">A preparation with it.</param>
public sealed record Proposal(string Id, string Words, string Reason, Func<Preparation, Preparation> Apply);
