namespace Lyrotrans.Formats.Bento;

/// <summary>A value of an object: its property and type, and how many bytes it has in all its parts.</summary>
/// <param name="First">Its first entry in the table of contents.</param>
/// <param name="Parts">So many entries from there.</param>
/// <remarks>docs/formats/bento.md, section 4.</remarks>
internal readonly record struct BentoValue(uint Property, uint Type, long Length, int First, int Parts);
