using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Formats.Compound;

/// <summary>Reads runs of a file one after the other, as one stream of a given length.</summary>
/// <remarks>docs/formats/compound.md, section 2.</remarks>
internal sealed class SectorStream : PlacedStream
{
    private readonly Stream _file;
    private readonly SectorRun[] _runs;
    private readonly long[] _starts;

    public SectorStream(Stream file, SectorRun[] runs, long length)
        : base(length)
    {
        _file = file;
        _runs = runs;
        _starts = new long[runs.Length];
        for (var i = 1; i < runs.Length; i++)
        {
            _starts[i] = _starts[i - 1] + runs[i - 1].Bytes;
        }
    }

    protected override int ReadAt(long position, Span<byte> buffer)
    {
        var place = Array.BinarySearch(_starts, position);
        var i = place >= 0 ? place : ~place - 1;
        if (i < 0)
        {
            return 0;
        }

        var within = position - _starts[i];
        var most = Math.Min(buffer.Length, _runs[i].Bytes - within);
        if (most <= 0)
        {
            return 0;
        }

        _file.Position = _runs[i].Offset + within;
        return _file.Read(buffer[..(int)most]);
    }
}
