namespace Lyrotrans.Core.Arriving;

/// <summary>A sent clip on the line of all: how far it was found from where it was sent, the common shift taken off.</summary>
/// <param name="Name">Of the clip and its track.</param>
/// <param name="Start">Where it was sent to, in samples.</param>
/// <param name="Offset">In samples; null where it is missing.</param>
/// <param name="Slipped">Whether it plays another place of its sound.</param>
public sealed record ArrivalDot(string Name, long Start, long? Offset, bool Slipped);
