namespace Lyrotrans.Core.Sessions;

/// <summary>A named point, or a span where the length is above zero. In samples.</summary>
public sealed record Marker(string Id, string Text, long Sample, long Length = 0);
