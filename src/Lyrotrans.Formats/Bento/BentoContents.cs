using System.Buffers.Binary;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Bento;

/// <summary>Reads a table of contents in either form.</summary>
/// <remarks>docs/formats/bento.md, section 2.</remarks>
internal sealed class BentoContents(byte[] table, BentoLabel label, string file)
{
    private const ushort Immediate = 1;
    private const ushort Continued = 2;
    private readonly List<BentoEntry> _entries = new(table.Length / BentoIds.EntryBytes);
    private bool _goesOn;

    /// <exception cref="BadInputException">It cannot be followed to its end.</exception>
    public List<BentoEntry> Read()
    {
        if (label.Form == 1)
        {
            ReadFixed();
        }
        else
        {
            ReadCoded();
        }

        return _entries;
    }

    private uint Number(int at) => label.BigEndian ? BinaryPrimitives.ReadUInt32BigEndian(table.AsSpan(at)) : BinaryPrimitives.ReadUInt32LittleEndian(table.AsSpan(at));

    private ushort Short(int at) => label.BigEndian ? BinaryPrimitives.ReadUInt16BigEndian(table.AsSpan(at)) : BinaryPrimitives.ReadUInt16LittleEndian(table.AsSpan(at));

    private void ReadFixed()
    {
        for (var at = 0; at + BentoIds.EntryBytes <= table.Length; at += BentoIds.EntryBytes)
        {
            var flags = Short(at + 22);
            var length = Number(at + 16);
            var inside = (flags & Immediate) != 0;
            _entries.Add(new BentoEntry(Number(at), Number(at + 4), Number(at + 8), inside ? label.Contents + at + 12 : Number(at + 12), inside ? Math.Min(4, length) : length, Continues(at, (flags & Continued) != 0)));
        }
    }

    // The flag says that the next entry goes on with this one.
    private bool Continues(int at, bool flagged)
    {
        var goesOn = _goesOn && _entries[^1].Object == Number(at) && _entries[^1].Property == Number(at + 4) && _entries[^1].Type == Number(at + 8);
        _goesOn = flagged;
        return goesOn;
    }

    private void ReadCoded()
    {
        uint owner = 0, property = 0, type = 0;
        var goesOn = false;
        for (var at = 0; at < table.Length;)
        {
            var code = table[at];
            var size = SizeOf(code, at);
            switch (code)
            {
                case 1:
                    (owner, property, type) = (Number(at + 1), Number(at + 5), Number(at + 9));
                    goesOn = false;
                    break;
                case 2:
                    (property, type) = (Number(at + 1), Number(at + 5));
                    goesOn = false;
                    break;
                case 3:
                    type = Number(at + 1);
                    goesOn = false;
                    break;
                case 5 or 6:
                    _entries.Add(new BentoEntry(owner, property, type, Number(at + 1), Number(at + 5), goesOn));
                    goesOn = code == 6;
                    break;
                case 7 or 8:
                    _entries.Add(new BentoEntry(owner, property, type, Long(at + 1), Number(at + 9), goesOn));
                    goesOn = code == 8;
                    break;
                case >= 9 and <= 14:
                    _entries.Add(new BentoEntry(owner, property, type, label.Contents + at + 1, code == 14 ? 4 : code - 9, goesOn));
                    goesOn = code == 14;
                    break;
            }

            at = code == 24 ? NextBuffer(at) : at + size;
        }
    }

    private long Long(int at)
    {
        var value = label.BigEndian ? BinaryPrimitives.ReadInt64BigEndian(table.AsSpan(at)) : BinaryPrimitives.ReadInt64LittleEndian(table.AsSpan(at));
        return value < 0 ? long.MaxValue : value;
    }

    private int NextBuffer(int at) => label.BufferBytes == 0 ? table.Length : ((at / label.BufferBytes) + 1) * label.BufferBytes;

    private int SizeOf(byte code, int at)
    {
        var size = code switch
        {
            1 or 7 or 8 => 13,
            2 or 5 or 6 => 9,
            3 or 4 or 15 => 5,
            9 or 24 or 0xFF => 1,
            >= 10 and <= 14 => 5,
            _ => throw new BadInputException(BentoCodes.BadContents, file, label.Contents + at, $"Its table of contents has a code {code} that has no meaning.", "It is damaged; ask for it again."),
        };
        return at + size <= table.Length ? size : throw new BadInputException(BentoCodes.BadContents, file, label.Contents + at, "Its table of contents ends inside an entry.", "It was cut short; ask for it again.");
    }
}
