namespace Lyrotrans.Core.Arriving;

/// <summary>One thing that is another on the other side, beyond what all have in common.</summary>
/// <param name="Subject">The clip with its track, or the track.</param>
/// <param name="What">Such as <c>start</c>.</param>
/// <param name="Sent">With its unit.</param>
/// <param name="Found">With its unit; <c>not there</c> for what is missing.</param>
/// <param name="Difference">With its unit.</param>
public sealed record ArrivalRow(string Subject, string What, string Sent, string Found, string Difference);
