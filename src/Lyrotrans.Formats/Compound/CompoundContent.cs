namespace Lyrotrans.Formats.Compound;

/// <summary>A stream to be written into a compound file: bytes at hand, or a length and what will write so many.</summary>
public sealed class CompoundContent
{
    private readonly byte[] _bytes;
    private readonly Action<Stream>? _write;

    public CompoundContent(string name, byte[] bytes)
    {
        Name = name;
        _bytes = bytes;
        Length = bytes.Length;
    }

    /// <param name="name">Of the stream.</param>
    /// <param name="length">In bytes, known before.</param>
    /// <param name="write">Writes exactly so many.</param>
    public CompoundContent(string name, long length, Action<Stream> write)
        : this(name, [])
    {
        Length = length;
        _write = write;
    }

    /// <summary>In its storage, where no other has it.</summary>
    public string Name { get; }

    /// <summary>In bytes.</summary>
    public long Length { get; }

    internal void WriteTo(Stream output)
    {
        if (_write is null)
        {
            output.Write(_bytes);
        }
        else
        {
            _write(output);
        }
    }
}
