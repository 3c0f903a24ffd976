namespace Lyrotrans.Core.Handover;

/// <summary>One thing to do with a package, in the order of bringing it in.</summary>
/// <param name="Do">What is done, in a sentence.</param>
/// <param name="Detail">The numbers that belong to it; may be empty.</param>
public sealed record HandoverStep(string Do, string Detail);
