namespace Lyrotrans.Web.Sheets;

/// <summary>A receiver sheet that can be chosen.</summary>
/// <param name="Key">What it is chosen by.</param>
/// <param name="Name">Its own.</param>
/// <param name="Words">Where it is from, and which state of it.</param>
/// <param name="Json">The sheet.</param>
/// <param name="IsShipped">Whether it came with the program.</param>
public sealed record OfferedSheet(string Key, string Name, string Words, string Json, bool IsShipped);
