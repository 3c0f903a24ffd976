namespace Lyrotrans.Core.Proof;

/// <summary>How far a clip was found from where it was meant, in samples.</summary>
public sealed record ClipDot(string Name, long Offset);
