using System.Buffers.Binary;

namespace Lyrotrans.Formats.Ogg;

/// <summary>A page of an Ogg file (RFC 3533, 6): its head, how its body is laced into packets, and the body.</summary>
internal sealed class OggPage
{
    /// <summary>A packet goes on from the page before.</summary>
    public const byte Continues = 1;

    /// <summary>The first page of its stream.</summary>
    public const byte Begins = 2;

    /// <summary>As many pieces as a page can have.</summary>
    public const int MostPieces = 255;

    private const int HeadBytes = 27;
    private static readonly uint[] s_table = [.. Enumerable.Range(0, 256).Select(i => Enumerable.Range(0, 8).Aggregate((uint)i << 24, (r, _) => (r & 0x8000_0000) != 0 ? (r << 1) ^ 0x04C1_1DB7 : r << 1))];
    private readonly byte[] _head;

    private OggPage(byte[] head, byte[] pieces, byte[] body) => (_head, Pieces, Body) = (head, pieces, body);

    /// <summary>The lengths of the pieces; one of less than 255 ends its packet.</summary>
    public byte[] Pieces { get; }

    /// <summary>The pieces, one after the other.</summary>
    public byte[] Body { get; }

    public byte Flags => _head[5];

    /// <summary>A number that all pages of a stream have.</summary>
    public uint Serial { get => BinaryPrimitives.ReadUInt32LittleEndian(_head.AsSpan(14)); set => BinaryPrimitives.WriteUInt32LittleEndian(_head.AsSpan(14), value); }

    /// <summary>The page's place in its stream, from 0.</summary>
    public uint Number { get => BinaryPrimitives.ReadUInt32LittleEndian(_head.AsSpan(18)); set => BinaryPrimitives.WriteUInt32LittleEndian(_head.AsSpan(18), value); }

    /// <summary>How many bytes it takes.</summary>
    public int Bytes => HeadBytes + Pieces.Length + Body.Length;

    /// <summary>A new page of a stream's headers, which have no samples yet.</summary>
    /// <param name="serial">The stream's.</param>
    /// <param name="number">From 0.</param>
    /// <param name="continues">Whether its first piece goes on with a packet.</param>
    /// <param name="pieces">255 at most.</param>
    /// <param name="body">As long as the pieces say.</param>
    public static OggPage OfHeaders(uint serial, uint number, bool continues, byte[] pieces, byte[] body)
    {
        byte[] head = [.. "OggS"u8, 0, continues ? Continues : (byte)0, .. new byte[20], (byte)pieces.Length];

        // Where no packet ends there is no place to tell.
        BinaryPrimitives.WriteInt64LittleEndian(head.AsSpan(6), Array.Exists(pieces, p => p < byte.MaxValue) ? 0 : -1);
        return new OggPage(head, pieces, body) { Serial = serial, Number = number };
    }

    /// <summary>The page that a stream stands at; null at its end, and where there is no whole page.</summary>
    public static OggPage? Read(Stream stream)
    {
        var head = new byte[HeadBytes];
        if (stream.ReadAtLeast(head, HeadBytes, throwOnEndOfStream: false) < HeadBytes || !head.AsSpan().StartsWith("OggS"u8))
        {
            return null;
        }

        var pieces = new byte[head[26]];
        if (stream.ReadAtLeast(pieces, pieces.Length, throwOnEndOfStream: false) < pieces.Length)
        {
            return null;
        }

        var body = new byte[pieces.Sum(p => p)];
        return stream.ReadAtLeast(body, body.Length, throwOnEndOfStream: false) < body.Length ? null : new OggPage(head, pieces, body);
    }

    /// <summary>Writes it with its checksum.</summary>
    public void Write(Stream stream)
    {
        BinaryPrimitives.WriteUInt32LittleEndian(_head.AsSpan(22), 0);
        var sum = Sum(Body, Sum(Pieces, Sum(_head, 0)));
        BinaryPrimitives.WriteUInt32LittleEndian(_head.AsSpan(22), sum);
        stream.Write(_head);
        stream.Write(Pieces);
        stream.Write(Body);
    }

    private static uint Sum(ReadOnlySpan<byte> bytes, uint sum)
    {
        foreach (var b in bytes)
        {
            sum = (sum << 8) ^ s_table[(sum >> 24) ^ b];
        }

        return sum;
    }
}
