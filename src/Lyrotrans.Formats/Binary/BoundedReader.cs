using System.Buffers.Binary;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Binary;

/// <summary>Reads numbers and bytes from a seekable stream, and checks that they are there before it does.</summary>
public sealed class BoundedReader(Stream stream, string file)
{
    public string File { get; } = file;

    public long Length => stream.Length;

    public long Position
    {
        get => stream.Position;
        set => stream.Position = value;
    }

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

    public uint UInt32(bool bigEndian, string what)
    {
        var bytes = Bytes(4, what);
        return bigEndian ? BinaryPrimitives.ReadUInt32BigEndian(bytes) : BinaryPrimitives.ReadUInt32LittleEndian(bytes);
    }

    public BadInputException Ends(string what) => new(
        FileCodes.CutShort, File, Position, $"The file ends inside {what}.", "It was cut short; ask for it again.");
}
