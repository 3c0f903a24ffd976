namespace Lyrotrans.Formats.Compound;

/// <summary>Reads runs of a file one after the other, as one stream of a given length.</summary>
internal sealed class SectorStream : Stream
{
    private readonly Stream _file;
    private readonly SectorRun[] _runs;
    private readonly long[] _starts;
    private long _position;

    public SectorStream(Stream file, SectorRun[] runs, long length)
    {
        _file = file;
        _runs = runs;
        _starts = new long[runs.Length];
        for (var i = 1; i < runs.Length; i++)
        {
            _starts[i] = _starts[i - 1] + runs[i - 1].Bytes;
        }

        Length = length;
    }

    public override bool CanRead => true;

    public override bool CanSeek => true;

    public override bool CanWrite => false;

    public override long Length { get; }

    public override long Position
    {
        get => _position;
        set => _position = value >= 0 ? value : throw new ArgumentOutOfRangeException(nameof(value));
    }

    public override int Read(byte[] buffer, int offset, int count) => Read(buffer.AsSpan(offset, count));

    public override int Read(Span<byte> buffer)
    {
        if (_position >= Length || buffer.Length == 0)
        {
            return 0;
        }

        var place = Array.BinarySearch(_starts, _position);
        var i = place >= 0 ? place : ~place - 1;
        var within = _position - _starts[i];
        var most = Math.Min(Math.Min(buffer.Length, _runs[i].Bytes - within), Length - _position);
        if (most <= 0)
        {
            return 0;
        }

        _file.Position = _runs[i].Offset + within;
        var read = _file.Read(buffer[..(int)most]);
        _position += read;
        return read;
    }

    public override long Seek(long offset, SeekOrigin origin) => Position = origin switch
    {
        SeekOrigin.Begin => offset,
        SeekOrigin.Current => _position + offset,
        _ => Length + offset,
    };

    public override void Flush()
    {
    }

    public override void SetLength(long value) => throw new NotSupportedException();

    public override void Write(byte[] buffer, int offset, int count) => throw new NotSupportedException();
}
