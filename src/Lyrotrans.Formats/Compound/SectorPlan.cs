namespace Lyrotrans.Formats.Compound;

/// <summary>
/// Where everything of a compound file to be written lies. All is known beforehand, so every chain is one run and the file is
/// written front to back; its tables are computed and never held.
/// </summary>
/// <remarks>docs/formats/compound.md, section 5.</remarks>
internal sealed class SectorPlan
{
    public const uint Free = 0xFFFFFFFF;
    public const uint EndOfChain = 0xFFFFFFFE;
    public const uint TableSector = 0xFFFFFFFD;
    public const uint TableListSector = 0xFFFFFFFC;
    public const int HeaderTables = 109;

    /// <summary>
    /// In the 4 KiB form the sector with the bytes from 7FFFFF00 on is kept free, since readers may lock a range of bytes there
    /// (the compound file's published description, range lock sector).
    /// </summary>
    private const long LockedByte = 0x7FFFFF00;
    private readonly List<(long Count, uint? Mark)> _runs = [];
    private readonly int _sector;
    private long _placed;

    /// <param name="sector">Bytes in a sector.</param>
    /// <param name="directory">Sectors of the directory.</param>
    /// <param name="miniTable">Sectors of the mini table.</param>
    /// <param name="mini">Sectors of the mini stream.</param>
    /// <param name="streams">Sectors of each stream that is not in the mini stream.</param>
    public SectorPlan(int sector, long directory, long miniTable, long mini, IEnumerable<long> streams)
    {
        _sector = sector;
        var each = streams.ToList();
        var body = directory + miniTable + mini + each.Sum();
        var perTable = sector / 4;
        while (true)
        {
            Lists = Tables > HeaderTables ? (Tables - HeaderTables + perTable - 2) / (perTable - 1) : 0;
            var all = Lists + Tables + body;
            var needed = ((all > Locked ? all + 1 : all) + perTable - 1) / perTable;
            if (needed <= Tables)
            {
                break;
            }

            Tables = needed;
        }

        FirstList = Place(Lists, TableListSector);
        FirstTable = Place(Tables, TableSector);
        FirstDirectory = Place(directory, null);
        FirstMiniTable = Place(miniTable, null);
        FirstMini = Place(mini, null);
        Streams = each.Select(count => Place(count, null)).ToList();
    }

    /// <summary>Sectors of the allocation table, and of the list of these beyond the header's.</summary>
    public long Tables { get; private set; }

    public long Lists { get; private set; }

    public uint FirstList { get; }

    public uint FirstTable { get; }

    public uint FirstDirectory { get; }

    public uint FirstMiniTable { get; }

    public uint FirstMini { get; }

    /// <summary>The first sector of each stream.</summary>
    public IReadOnlyList<uint> Streams { get; }

    /// <summary>The sector in the file of one in the order of writing.</summary>
    public uint Physical(long placed) => (uint)(placed < Locked ? placed : placed + 1);

    /// <summary>The sector that stays free; beyond any file where there is none.</summary>
    public long Locked => _sector == 4096 ? (LockedByte / 4096) - 1 : long.MaxValue;

    /// <summary>The allocation table's words in the order of the file's sectors.</summary>
    public IEnumerable<uint> Table()
    {
        long placed = 0;
        foreach (var (count, mark) in _runs)
        {
            for (long i = 0; i < count; i++, placed++)
            {
                if (placed == Locked)
                {
                    yield return EndOfChain;
                }

                yield return mark ?? (i == count - 1 ? EndOfChain : Physical(placed + 1));
            }
        }
    }

    private uint Place(long count, uint? mark)
    {
        if (count == 0)
        {
            return EndOfChain;
        }

        _runs.Add((count, mark));
        var first = Physical(_placed);
        _placed += count;
        return first;
    }
}
