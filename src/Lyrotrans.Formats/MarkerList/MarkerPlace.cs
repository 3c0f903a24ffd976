namespace Lyrotrans.Formats.MarkerList;

/// <summary>A place as text: <c>samples</c>, <c>timecode</c>, <c>bars</c> or <c>seconds</c>, and what was written.</summary>
public sealed record MarkerPlace(string Kind, string Text);
