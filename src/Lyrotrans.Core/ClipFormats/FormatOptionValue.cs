namespace Lyrotrans.Core.ClipFormats;

/// <summary>A value of an option.</summary>
/// <param name="Id">In documents.</param>
/// <param name="Words">For people: the value itself, such as <c>512 bytes, older readers</c>.</param>
/// <param name="FormerId">As documents of before have it: a text, or <c>true</c> and <c>false</c>; null where it is newer.</param>
public sealed record FormatOptionValue(string Id, string Words, string? FormerId = null);
