using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Compound;

/// <summary>
/// Writes a compound file front to back into any stream. Contents whose length is known are streamed, so that memory grows with the
/// directory and not with them. The same storages give the same bytes.
/// </summary>
/// <remarks>docs/formats/compound.md, section 5.</remarks>
public sealed class CompoundWriter
{
    private const int EntryBytes = 128;
    private const int MiniSector = 64;
    private const int Cutoff = 4096;
    private static readonly Guid s_largeForm = new("0d010201-0200-0000-060e-2b3403020101");
    private static readonly Guid s_smallForm = new("42464141-000d-4d4f-060e-2b34010101ff");
    private static readonly byte[] s_zeros = new byte[MiniSector];
    private readonly int _sector;
    private readonly DirectoryTree _directory;
    private readonly List<DirectoryNode> _mini = [];
    private readonly List<DirectoryNode> _large = [];
    private readonly SectorPlan _plan;
    private readonly Stream _output;
    private readonly long _miniSectors;
    private long _written;

    private CompoundWriter(CompoundStorage root, int sectorBytes, Stream output)
    {
        _sector = sectorBytes;
        _output = output;
        _directory = new DirectoryTree(root);
        uint mini = 0;
        foreach (var node in _directory.Nodes.Where(n => n.Stream is not null))
        {
            var length = node.Stream!.Length;
            node.Start = SectorPlan.EndOfChain;
            if (length >= Cutoff)
            {
                _large.Add(node);
            }
            else if (length > 0)
            {
                node.Start = mini;
                mini += (uint)((length + MiniSector - 1) / MiniSector);
                _mini.Add(node);
            }
        }

        _miniSectors = mini;
        _plan = new SectorPlan(_sector, Sectors(_directory.Nodes.Count * (long)EntryBytes), Sectors(_miniSectors * 4), Sectors(_miniSectors * MiniSector), _large.Select(n => Sectors(n.Stream!.Length)));
        for (var i = 0; i < _large.Count; i++)
        {
            _large[i].Start = _plan.Streams[i];
        }
    }

    /// <summary>The longest stream that a form can hold, in bytes: with small sectors sizes have 32 bits.</summary>
    public static long LongestStream(int sectorBytes) => sectorBytes == 512 ? uint.MaxValue : long.MaxValue / 2;

    /// <param name="root">The root storage; its own name is not written.</param>
    /// <param name="sectorBytes">512 or 4096.</param>
    /// <param name="output">Written front to back; need not be seekable.</param>
    /// <exception cref="ArgumentException">A name is used twice in a storage, is longer than 31 characters, or a stream is too long for the form.</exception>
    public static void Write(CompoundStorage root, int sectorBytes, Stream output)
    {
        ArgumentOutOfRangeException.ThrowIfNotEqual(sectorBytes is 512 or 4096, true, nameof(sectorBytes));
        using var buffer = new BufferedStream(new Unclosed(output), 1 << 18);
        new CompoundWriter(root, sectorBytes, buffer).Write();
    }

    /// <summary>The size that a file of these storages will have, in bytes.</summary>
    public static long SizeOf(CompoundStorage root, int sectorBytes)
    {
        var plan = new CompoundWriter(root, sectorBytes, Stream.Null)._plan;
        return (plan.Table().LongCount() + 1) * sectorBytes;
    }

    private long Sectors(long bytes) => (bytes + _sector - 1) / _sector;

    private void Write()
    {
        WriteHeader();
        WriteTableList();
        WriteWords(_plan.Table());
        WriteDirectory();
        WriteWords(MiniTable());
        WriteMiniStream();
        foreach (var node in _large)
        {
            WriteLarge(node.Stream!);
        }
    }

    private void WriteHeader()
    {
        var bytes = new byte[_sector];
        new byte[] { 0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1 }.CopyTo(bytes, 0);
        (_sector == 4096 ? s_largeForm : s_smallForm).TryWriteBytes(bytes.AsSpan(8));
        Word16(24, 62);
        Word16(26, _sector == 4096 ? 4 : 3);
        Word16(28, 0xFFFE);
        Word16(30, _sector == 4096 ? 12 : 9);
        Word16(32, 6);
        Word(40, _sector == 4096 ? (uint)Sectors(_directory.Nodes.Count * (long)EntryBytes) : 0);
        Word(44, (uint)_plan.Tables);
        Word(48, _plan.FirstDirectory);
        Word(56, Cutoff);
        Word(60, _plan.FirstMiniTable);
        Word(64, (uint)Sectors(_miniSectors * 4));
        Word(68, _plan.FirstList);
        Word(72, (uint)_plan.Lists);
        for (var i = 0; i < SectorPlan.HeaderTables; i++)
        {
            Word(76 + (i * 4), i < _plan.Tables ? TableSector(i) : SectorPlan.Free);
        }

        _output.Write(bytes);
        _written = 1;
        void Word(int at, uint value) => BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(at), value);
        void Word16(int at, int value) => BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(at), (ushort)value);
    }

    private uint TableSector(long index) => _plan.Physical(_plan.Lists + index);

    /// <summary>The allocation table's sectors that the header has no room for; each sector ends with the number of the next.</summary>
    private void WriteTableList()
    {
        var perList = (_sector / 4) - 1;
        var at = (long)SectorPlan.HeaderTables;
        for (long list = 0; list < _plan.Lists; list++)
        {
            var words = new uint[perList + 1];
            for (var i = 0; i < perList; i++, at++)
            {
                words[i] = at < _plan.Tables ? TableSector(at) : SectorPlan.Free;
            }

            words[perList] = list == _plan.Lists - 1 ? SectorPlan.EndOfChain : _plan.Physical(list + 1);
            WriteWords(words);
        }
    }

    /// <summary>Words, filled up to whole sectors.</summary>
    private void WriteWords(IEnumerable<uint> words)
    {
        var sector = new byte[_sector];
        var at = 0;
        foreach (var word in words)
        {
            BinaryPrimitives.WriteUInt32LittleEndian(sector.AsSpan(at), word);
            at += 4;
            if (at == _sector)
            {
                WriteSector(sector);
                at = 0;
            }
        }

        if (at > 0)
        {
            sector.AsSpan(at).Fill(0xFF);
            WriteSector(sector);
        }
    }

    private void WriteSector(ReadOnlySpan<byte> bytes)
    {
        SkipLocked();
        _output.Write(bytes);
        _written++;
    }

    private void SkipLocked()
    {
        if (_written - 1 == _plan.Locked)
        {
            _output.Write(new byte[_sector]);
            _written++;
        }
    }

    private void WriteDirectory()
    {
        var sector = new byte[_sector];
        var perSector = _sector / EntryBytes;
        for (var first = 0; first < _directory.Nodes.Count; first += perSector)
        {
            sector.AsSpan().Clear();
            for (var i = 0; i < perSector; i++)
            {
                var entry = sector.AsSpan(i * EntryBytes, EntryBytes);
                if (first + i < _directory.Nodes.Count)
                {
                    WriteEntry(_directory.Nodes[first + i], first + i == 0, entry);
                }
                else
                {
                    entry[68..80].Fill(0xFF);
                }
            }

            WriteSector(sector);
        }
    }

    private void WriteEntry(DirectoryNode node, bool isRoot, Span<byte> entry)
    {
        var name = isRoot ? "Root Entry" : node.Name;
        if (name.Length > 31)
        {
            throw new ArgumentException($"The name \"{name}\" is longer than a compound file holds.", nameof(node));
        }

        var length = node.Stream?.Length ?? 0;
        if (length > LongestStream(_sector))
        {
            throw new ArgumentException($"The stream \"{name}\" is {length} bytes, more than sectors of {_sector} bytes hold.", nameof(node));
        }

        Encoding.Unicode.GetBytes(name, entry);
        BinaryPrimitives.WriteUInt16LittleEndian(entry[64..], (ushort)((name.Length + 1) * 2));
        entry[66] = (byte)(isRoot ? CompoundEntryKind.Root : node.Storage is null ? CompoundEntryKind.Stream : CompoundEntryKind.Storage);
        entry[67] = (byte)(node.IsBlack ? 1 : 0);
        BinaryPrimitives.WriteInt32LittleEndian(entry[68..], node.Before);
        BinaryPrimitives.WriteInt32LittleEndian(entry[72..], node.After);
        BinaryPrimitives.WriteInt32LittleEndian(entry[76..], node.Child);
        node.Storage?.Class.TryWriteBytes(entry[80..]);
        BinaryPrimitives.WriteUInt32LittleEndian(entry[116..], isRoot ? _plan.FirstMini : node.Start);
        BinaryPrimitives.WriteInt64LittleEndian(entry[120..], isRoot ? _miniSectors * MiniSector : length);
    }

    private IEnumerable<uint> MiniTable()
    {
        uint at = 0;
        foreach (var node in _mini)
        {
            for (var left = (node.Stream!.Length + MiniSector - 1) / MiniSector; left > 0; left--)
            {
                at++;
                yield return left == 1 ? SectorPlan.EndOfChain : at;
            }
        }
    }

    private void WriteMiniStream()
    {
        var pending = new MemoryStream(_sector * 4);
        foreach (var node in _mini)
        {
            node.Stream!.WriteTo(pending);
            pending.Write(s_zeros, 0, (MiniSector - (int)(pending.Length % MiniSector)) % MiniSector);
            if (pending.Length >= _sector)
            {
                WriteWhole(pending);
            }
        }

        if (pending.Length > 0)
        {
            pending.SetLength(_sector);
            WriteWhole(pending);
        }
    }

    /// <summary>Writes the sectors that are full and keeps the rest.</summary>
    private void WriteWhole(MemoryStream pending)
    {
        var bytes = pending.GetBuffer().AsSpan(0, (int)pending.Length);
        while (bytes.Length >= _sector)
        {
            WriteSector(bytes[.._sector]);
            bytes = bytes[_sector..];
        }

        bytes.CopyTo(pending.GetBuffer());
        pending.SetLength(bytes.Length);
        pending.Position = bytes.Length;
    }

    private void WriteLarge(CompoundContent content)
    {
        using var sectors = new SectorOutput(this);
        content.WriteTo(sectors);
        if (sectors.Length != content.Length)
        {
            throw new InvalidOperationException($"The stream \"{content.Name}\" was to be {content.Length} bytes, and {sectors.Length} came.");
        }

        var rest = (int)(content.Length % _sector);
        if (rest > 0)
        {
            _output.Write(new byte[_sector - rest]);
        }
    }

    /// <summary>Counts the bytes of one stream and steps over the sector that stays free.</summary>
    private sealed class SectorOutput(CompoundWriter writer) : ForwardStream
    {
        protected override void Take(ReadOnlySpan<byte> buffer)
        {
            var written = Length;
            while (buffer.Length > 0)
            {
                var within = (int)(written % writer._sector);
                if (within == 0)
                {
                    writer.SkipLocked();
                }

                // As much as lies together: to the end of the sector that was begun, else whole sectors up to the one that stays free.
                var together = within > 0 ? writer._sector - within : Math.Min(1 << 20, Math.Abs(writer._plan.Locked - (writer._written - 1))) * writer._sector;
                var count = (int)Math.Min(buffer.Length, together);
                writer._written += within > 0 ? 0 : (count + writer._sector - 1) / writer._sector;
                writer._output.Write(buffer[..count]);
                buffer = buffer[count..];
                written += count;
            }
        }
    }

    /// <summary>Leaves the stream that it writes to open.</summary>
    private sealed class Unclosed(Stream inner) : Stream
    {
        public override bool CanRead => false;

        public override bool CanSeek => false;

        public override bool CanWrite => true;

        public override long Length => inner.Length;

        public override long Position
        {
            get => inner.Position;
            set => throw new NotSupportedException();
        }

        public override void Write(byte[] buffer, int offset, int count) => inner.Write(buffer, offset, count);

        public override void Write(ReadOnlySpan<byte> buffer) => inner.Write(buffer);

        public override void Flush() => inner.Flush();

        public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

        public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

        public override void SetLength(long value) => throw new NotSupportedException();
    }
}
