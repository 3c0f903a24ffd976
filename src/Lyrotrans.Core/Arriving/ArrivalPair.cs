namespace Lyrotrans.Core.Arriving;

/// <summary>A clip that was sent and the one that it became.</summary>
internal sealed record ArrivalPair(ArrivalClip Sent, ArrivalClip Found, ArrivalBasis Basis);
