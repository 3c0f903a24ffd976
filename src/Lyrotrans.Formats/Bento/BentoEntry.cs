namespace Lyrotrans.Formats.Bento;

/// <summary>One line of a table of contents: a run of bytes that is a value of an object, or a part of one.</summary>
/// <param name="Offset">In the file, also of a value that lies in the table itself.</param>
/// <param name="Continues">It goes on with what the entry before it began.</param>
/// <remarks>docs/formats/bento.md, section 2.</remarks>
internal readonly record struct BentoEntry(uint Object, uint Property, uint Type, long Offset, long Length, bool Continues);
