using System.Buffers.Binary;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Bento;

/// <summary>The last 24 bytes of a container: where its table of contents lies, and in which form and byte order.</summary>
/// <param name="Form">1 for entries of a fixed size, 2 for coded ones.</param>
/// <param name="BufferBytes">Blocks of a coded table; 0 where none is said.</param>
/// <remarks>docs/formats/bento.md, section 1.</remarks>
internal readonly record struct BentoLabel(bool BigEndian, int Form, int BufferBytes, long Contents, long ContentsBytes)
{
    public static bool Is(ReadOnlySpan<byte> label) => label.Length == BentoIds.LabelBytes && label.StartsWith(BentoIds.Magic);

    /// <summary>The ways to read it, the likeliest first: letters say the byte order, else that the table ends where the label begins.</summary>
    public static IEnumerable<BentoLabel> Readings(byte[] label, long fileBytes, string file)
    {
        var letters = label.AsSpan(10, 2) is [var a, var b] ? (a, b) : default;
        var both = new[] { Of(label, false), Of(label, true) }.Where(l => l.Form is 1 or 2 && l.Contents >= 0 && l.ContentsBytes > 0 && l.Contents + l.ContentsBytes <= fileBytes - BentoIds.LabelBytes).ToList();
        if (both.Count == 0)
        {
            throw new BadInputException(BentoCodes.BadContents, file, fileBytes - BentoIds.LabelBytes, "Its label says a table of contents that lies beyond the file.", "It was cut short or damaged; ask for it again.");
        }

        return both.OrderBy(l => (letters, l.BigEndian) is ((0x49, 0x49), false) or ((0x4D, 0x4D), true) ? 0 : l.Contents + l.ContentsBytes + BentoIds.LabelBytes == fileBytes ? 1 : 2);
    }

    private static BentoLabel Of(ReadOnlySpan<byte> label, bool big)
    {
        int Short(ReadOnlySpan<byte> at) => big ? BinaryPrimitives.ReadUInt16BigEndian(at) : BinaryPrimitives.ReadUInt16LittleEndian(at);
        long Long(ReadOnlySpan<byte> at) => big ? BinaryPrimitives.ReadUInt32BigEndian(at) : BinaryPrimitives.ReadUInt32LittleEndian(at);
        var buffer = Short(label[10..]);
        return new BentoLabel(big, Short(label[12..]), buffer is 0x4949 or 0x4D4D ? 0 : buffer * 1024, Long(label[16..]), Long(label[20..]));
    }
}
