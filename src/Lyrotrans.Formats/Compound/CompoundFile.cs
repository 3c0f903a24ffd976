using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;
using System.Buffers.Binary;
using System.Runtime.InteropServices;
using System.Text;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Compound;

/// <summary>
/// Reads a compound file of either sector size: a directory of storages and streams. The allocation tables and the directory are
/// held in memory; streams are read from the file when they are asked for. Chains are followed and no count is trusted.
/// </summary>
/// <remarks>docs/formats/compound.md, sections 1, 2 and 4.</remarks>
public sealed class CompoundFile
{
    private const uint LastRegularSector = 0xFFFFFFFA;
    private const int EntryBytes = 128;
    private const int HeaderTables = 109;
    private const int MiniSector = 64;
    private const int MostEntries = 4_000_000;
    private static readonly byte[] s_magic = [0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1];

    private readonly Stream _stream;
    private readonly string _file;
    private readonly int _sector;
    private readonly uint[] _next;
    private readonly uint[] _miniNext;
    private readonly long _cutoff;
    private readonly SectorRun[] _miniRuns;
    private readonly long[] _miniStarts;
    private readonly CompoundEntry?[] _entries;
    private readonly PageCache _pages;
    private readonly Stack<int> _open = [];
    private readonly string?[] _names = new string?[64];

    private CompoundFile(Stream stream, string file)
    {
        _stream = stream;
        _file = file;
        _pages = new PageCache(stream);
        Span<byte> head = stackalloc byte[512];
        stream.Position = 0;
        if (stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) < head.Length || !head.StartsWith(s_magic))
        {
            throw Error(CompoundCodes.BadHeader, 0, "This is not a compound file.");
        }

        var shift = BinaryPrimitives.ReadUInt16LittleEndian(head[30..]);
        if (shift is not (9 or 12) || BinaryPrimitives.ReadUInt16LittleEndian(head[28..]) != 0xFFFE || BinaryPrimitives.ReadUInt16LittleEndian(head[32..]) != 6)
        {
            throw Error(CompoundCodes.BadHeader, 28, $"The header says sectors of 2 to the {shift} bytes, and they are 512 or 4096.");
        }

        _sector = 1 << shift;
        _cutoff = BinaryPrimitives.ReadUInt32LittleEndian(head[56..]);
        _next = ReadTable(TableSectors(head));
        var directory = ReadChain(BinaryPrimitives.ReadUInt32LittleEndian(head[48..]), "directory");
        _entries = ReadDirectory(directory);
        if (_entries.Length == 0 || _entries[0] is not { Kind: CompoundEntryKind.Root } root)
        {
            throw Error(CompoundCodes.BadDirectory, 48, "Its directory has no root.");
        }

        Root = root;
        _miniRuns = Runs(root.Start, root.Size, "mini stream");
        _miniStarts = new long[_miniRuns.Length];
        for (var i = 1; i < _miniRuns.Length; i++)
        {
            _miniStarts[i] = _miniStarts[i - 1] + _miniRuns[i - 1].Bytes;
        }

        _miniNext = Words(ReadChain(BinaryPrimitives.ReadUInt32LittleEndian(head[60..]), "mini table"));
    }

    /// <summary>The storage that holds all others.</summary>
    public CompoundEntry Root { get; }

    /// <summary>Places in the directory, used or not.</summary>
    public int Entries => _entries.Length;

    /// <summary>Bytes in a sector: 512 or 4096.</summary>
    public int SectorBytes => _sector;

    private long Sectors => Math.Max(0, (_stream.Length - _sector + _sector - 1) / _sector);

    /// <param name="stream">Seekable; stays the caller's and must outlive this.</param>
    /// <param name="file">For errors.</param>
    /// <exception cref="BadInputException">Not a compound file, or its tables are damaged; names the byte.</exception>
    public static CompoundFile Open(Stream stream, string file) => new(stream, file);

    /// <summary>The entries in a storage.</summary>
    /// <exception cref="BadInputException">Its tree comes back to itself, or points outside the directory.</exception>
    public CompoundChildren Children(CompoundEntry storage)
    {
        var found = new CompoundChildren();
        var open = _open;
        open.Clear();
        open.Push(storage.Child);
        while (open.TryPop(out var index))
        {
            if (index < 0)
            {
                continue;
            }

            if (index >= _entries.Length || _entries[index] is not { } entry)
            {
                throw Error(CompoundCodes.BadDirectory, null, $"The storage \"{storage.Name}\" points to entry {index}, which is not in the directory.");
            }

            if (!found.TryAdd(entry))
            {
                throw Error(CompoundCodes.BadDirectory, null, $"The storage \"{storage.Name}\" has \"{entry.Name}\" twice, or its tree comes back to itself.");
            }

            open.Push(entry.Before);
            open.Push(entry.After);
        }

        return found;
    }

    /// <summary>The bytes of a stream; for small ones.</summary>
    /// <exception cref="BadInputException">It is larger than <paramref name="most"/>, or its chain is broken.</exception>
    public byte[] ReadAll(CompoundEntry entry, int most)
    {
        if (entry.Size > most)
        {
            throw Error(FileCodes.TooLarge, null, $"The stream \"{entry.Name}\" is {entry.Size} bytes, more than anything of its kind.");
        }

        if (entry.Size < _cutoff)
        {
            return ReadMini(entry);
        }

        var bytes = new byte[entry.Size];
        using var stream = OpenStream(entry);
        return stream.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false) == bytes.Length
            ? bytes
            : throw Error(CompoundCodes.BadChain, null, $"The stream \"{entry.Name}\" ends before its size of {entry.Size} bytes.");
    }

    /// <summary>Opens a stream for reading at any place, without holding its bytes.</summary>
    /// <exception cref="BadInputException">Its chain is broken, comes back to itself, or is shorter than its size.</exception>
    public Stream OpenStream(CompoundEntry entry) => entry.Size < _cutoff
        ? new SectorStream(_stream, MiniRuns(entry), entry.Size)
        : new SectorStream(_stream, Runs(entry.Start, entry.Size, $"stream \"{entry.Name}\""), entry.Size);

    private long Offset(uint sector) => (sector + 1L) * _sector;

    private BadInputException Error(FindingCode code, long? at, string problem) =>
        new(code, _file, at is { } place ? $"byte {place}" : string.Empty, problem, "The file is damaged or was cut short; ask for it again.");

    private List<uint> TableSectors(ReadOnlySpan<byte> head)
    {
        var result = new List<uint>();
        for (var i = 0; i < HeaderTables; i++)
        {
            Add(BinaryPrimitives.ReadUInt32LittleEndian(head[(76 + (i * 4))..]));
        }

        // The rest of the list lies in sectors of its own, each with the number of the next at its end.
        var at = BinaryPrimitives.ReadUInt32LittleEndian(head[68..]);
        var bytes = new byte[_sector];
        for (var read = 0L; at < LastRegularSector; read++)
        {
            if (at >= Sectors || read > Sectors)
            {
                throw Error(CompoundCodes.BadChain, 68, "The list of its allocation tables leaves the file or comes back to itself.");
            }

            ReadSector(at, bytes);
            for (var i = 0; i < _sector - 4; i += 4)
            {
                Add(BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(i)));
            }

            at = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(_sector - 4));
        }

        return result;
        void Add(uint sector)
        {
            if (sector < LastRegularSector)
            {
                result.Add(sector);
            }
        }
    }

    private uint[] ReadTable(List<uint> sectors)
    {
        var perSector = _sector / 4;

        // A table longer than the file has sectors says nothing of use beyond them.
        var useful = (int)Math.Min(sectors.Count, (Sectors + perSector - 1) / perSector);
        var table = new uint[useful * perSector];
        var bytes = new byte[_sector];
        for (var i = 0; i < useful; i++)
        {
            if (sectors[i] >= Sectors)
            {
                throw Error(CompoundCodes.BadChain, null, $"An allocation table lies in sector {sectors[i]}, beyond the end of the file.");
            }

            ReadSector(sectors[i], bytes);
            Words(bytes).CopyTo(table, i * perSector);
        }

        return table;
    }

    private static uint[] Words(byte[] bytes)
    {
        var words = new uint[bytes.Length / 4];
        for (var i = 0; i < words.Length; i++)
        {
            words[i] = BinaryPrimitives.ReadUInt32LittleEndian(bytes.AsSpan(i * 4));
        }

        return words;
    }

    // The last sector of a file may be cut short.
    private void ReadSector(uint sector, byte[] bytes)
    {
        _stream.Position = Offset(sector);
        var read = _stream.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false);
        bytes.AsSpan(read).Clear();
    }

    private byte[] ReadChain(uint start, string what)
    {
        var runs = Runs(start, null, what);
        var length = runs.Sum(r => r.Bytes);
        if (length > (long)MostEntries * EntryBytes)
        {
            throw Error(CompoundCodes.BadChain, null, $"Its {what} is {length} bytes long.");
        }

        var bytes = new byte[length];
        using var stream = new SectorStream(_stream, runs, length);
        stream.ReadAtLeast(bytes, bytes.Length, throwOnEndOfStream: false);
        return bytes;
    }

    /// <summary>The sectors of a chain, neighbours taken together; where a size is given, as many as it needs.</summary>
    private SectorRun[] Runs(uint start, long? size, string what)
    {
        var runs = new List<SectorRun>();
        var needed = size is { } bytes ? (bytes + _sector - 1) / _sector : long.MaxValue;
        if (size is not null && needed > Sectors)
        {
            throw Error(CompoundCodes.BadChain, null, $"Its {what} says that it is {size} bytes, more than the whole file.");
        }

        long count = 0;
        for (var at = start; at < LastRegularSector && count < needed; count++)
        {
            if (at >= Sectors || at >= _next.Length || count > Sectors)
            {
                throw Error(CompoundCodes.BadChain, null, at >= Sectors ? $"Its {what} goes on in sector {at}, beyond the end of the file." : $"The chain of its {what} comes back to itself.");
            }

            if (runs.Count > 0 && runs[^1].Offset + runs[^1].Bytes == Offset(at))
            {
                runs[^1] = runs[^1] with { Bytes = runs[^1].Bytes + _sector };
            }
            else
            {
                runs.Add(new SectorRun(Offset(at), _sector));
            }

            at = _next[at];
        }

        return size is null || count >= needed ? [.. runs] : throw Error(CompoundCodes.BadChain, null, $"The chain of its {what} ends after {count} of {needed} sectors.");
    }

    private SectorRun[] MiniRuns(CompoundEntry entry)
    {
        var runs = new List<SectorRun>();
        var needed = (entry.Size + MiniSector - 1) / MiniSector;
        var at = entry.Start;
        for (long i = 0; i < needed; i++)
        {
            var offset = OffsetOfMini(at, entry);
            if (runs.Count > 0 && runs[^1].Offset + runs[^1].Bytes == offset)
            {
                runs[^1] = runs[^1] with { Bytes = runs[^1].Bytes + MiniSector };
            }
            else
            {
                runs.Add(new SectorRun(offset, MiniSector));
            }

            at = _miniNext[at];
        }

        return [.. runs];
    }

    private long OffsetOfMini(uint mini, CompoundEntry entry) => mini < _miniNext.Length && ((long)mini + 1) * MiniSector <= Root.Size + MiniSector
        ? MiniOffset((long)mini * MiniSector, entry.Name)
        : throw Error(CompoundCodes.BadChain, null, $"The stream \"{entry.Name}\" leaves the mini stream.");

    // Mini sectors never cross a sector, so one run holds each.
    private long MiniOffset(long place, string name)
    {
        var at = Array.BinarySearch(_miniStarts, place);
        var run = at >= 0 ? at : ~at - 1;
        return run >= 0 && place - _miniStarts[run] < _miniRuns[run].Bytes
            ? _miniRuns[run].Offset + place - _miniStarts[run]
            : throw Error(CompoundCodes.BadChain, null, $"The stream \"{name}\" leaves the mini stream.");
    }

    /// <summary>The bytes of a small stream, by way of pages: there are many of them, near each other and not in the order of reading.</summary>
    private byte[] ReadMini(CompoundEntry entry)
    {
        var bytes = new byte[entry.Size];
        var mini = entry.Start;
        for (var at = 0; at < bytes.Length; at += MiniSector)
        {
            var piece = bytes.AsSpan(at, Math.Min(MiniSector, bytes.Length - at));
            if (_pages.Read(OffsetOfMini(mini, entry), piece) < piece.Length)
            {
                throw Error(CompoundCodes.BadChain, null, $"The stream \"{entry.Name}\" ends before its size of {entry.Size} bytes.");
            }

            mini = _miniNext[mini];
        }

        return bytes;
    }

    private CompoundEntry?[] ReadDirectory(byte[] bytes)
    {
        var entries = new CompoundEntry?[bytes.Length / EntryBytes];
        for (var i = 0; i < entries.Length; i++)
        {
            entries[i] = ReadEntry(i, bytes.AsSpan(i * EntryBytes, EntryBytes));
        }

        return entries;
    }

    // Half of all entries of some files have one name.
    private string NameOf(ReadOnlySpan<byte> name)
    {
        ref var known = ref _names[name.IsEmpty ? 0 : (name.Length + name[0] + (7 * name[^2])) % _names.Length];
        return known is not null && MemoryMarshal.AsBytes(known.AsSpan()).SequenceEqual(name) ? known : known = Encoding.Unicode.GetString(name);
    }

    private CompoundEntry? ReadEntry(int index, ReadOnlySpan<byte> bytes)
    {
        var kind = (CompoundEntryKind)bytes[66];
        if (kind is not (CompoundEntryKind.Storage or CompoundEntryKind.Stream or CompoundEntryKind.Root))
        {
            return null;
        }

        var nameBytes = Math.Clamp(BinaryPrimitives.ReadUInt16LittleEndian(bytes[64..]) - 2, 0, 62);

        // The upper half of a size means nothing with small sectors; some writers leave rubbish there.
        var size = _sector == 512 ? BinaryPrimitives.ReadUInt32LittleEndian(bytes[120..]) : BinaryPrimitives.ReadInt64LittleEndian(bytes[120..]);
        if (size < 0)
        {
            throw Error(CompoundCodes.BadDirectory, null, $"Directory entry {index} says a size below zero.");
        }

        return new CompoundEntry(
            index, NameOf(bytes[..(nameBytes & ~1)]), kind, new Guid(bytes[80..96]), BinaryPrimitives.ReadUInt32LittleEndian(bytes[116..]), size)
        {
            Before = Link(bytes[68..]),
            After = Link(bytes[72..]),
            Child = Link(bytes[76..]),
        };
        static int Link(ReadOnlySpan<byte> at) => BinaryPrimitives.ReadInt32LittleEndian(at);
    }
}
