using System.Buffers.Binary;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Binary;

/// <summary>Reads numbers and bytes from a seekable stream, and checks that they are there before it does.</summary>
public sealed class BoundedReader(Stream stream, string file)
{
    /// <summary>The file's name, for errors.</summary>
    public string File { get; } = file;

    /// <summary>Of the file, in bytes.</summary>
    public long Length => stream.Length;

    /// <summary>Where the next byte is read, from 0.</summary>
    public long Position
    {
        get => stream.Position;
        set => stream.Position = value;
    }

    /// <summary>Bytes from there to the end.</summary>
    public long Remaining => Length - Position;

    /// <exception cref="BadInputException">The stream ends before so many bytes.</exception>
    public byte[] Bytes(int count, string what)
    {
        if (count < 0 || count > Remaining)
        {
            throw Ends(what);
        }

        var bytes = new byte[count];
        stream.ReadExactly(bytes);
        return bytes;
    }

    /// <summary>Four bytes as an unsigned number.</summary>
    /// <param name="bigEndian">Whether the first byte is the highest.</param>
    /// <param name="what">What they are, for errors.</param>
    /// <exception cref="BadInputException">The file ends before.</exception>
    public uint UInt32(bool bigEndian, string what)
    {
        var bytes = Bytes(4, what);
        return bigEndian ? BinaryPrimitives.ReadUInt32BigEndian(bytes) : BinaryPrimitives.ReadUInt32LittleEndian(bytes);
    }

    /// <summary>The refusal of a file that ends inside something.</summary>
    public BadInputException Ends(string what) => new(
        FileCodes.CutShort, File, Position, $"The file ends inside {what}.", "It was cut short; ask for it again.");
}
