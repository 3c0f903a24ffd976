using System.IO.Hashing;
using System.Security.Cryptography;

namespace Lyrotrans.Workflow.Packing;

/// <summary>One entry of a zip under way. Written front to back; its checksums are kept on the way.</summary>
public sealed class StoredEntryStream : Stream
{
    private readonly StoredZip _zip;
    private readonly long _size;
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly Crc32 _crc = new();
    private bool _open;
    private long _count;

    internal StoredEntryStream(StoredZip zip, string path, long offset, long size, int headBytes)
    {
        _zip = zip;
        _size = size;
        Path = path;
        Offset = offset;
        HeadBytes = headBytes;
    }

    public string Path { get; }

    /// <summary>Lower-case hex, once it is finished.</summary>
    public string Sha256 { get; private set; } = string.Empty;

    public override bool CanRead => false;

    public override bool CanSeek => false;

    public override bool CanWrite => true;

    public override long Length => _count;

    public override long Position
    {
        get => _count;
        set => throw new NotSupportedException();
    }

    internal long Offset { get; }

    internal int HeadBytes { get; private set; }

    internal long DataOffset => Offset + HeadBytes;

    internal uint Crc32 { get; private set; }

    /// <summary>Writes what is known only at the end.</summary>
    /// <exception cref="InvalidOperationException">It is not as long as it was said to be.</exception>
    public void Finish()
    {
        if (!_open && _count != _size)
        {
            throw new InvalidOperationException($"{Path} was to have {_size} bytes and has {_count}.");
        }

        Sha256 = Convert.ToHexStringLower(_hash.GetHashAndReset());
        Crc32 = _crc.GetCurrentHashAsUInt32();
        _zip.Close(this);
    }

    public override void Write(byte[] buffer, int offset, int count) => Write(buffer.AsSpan(offset, count));

    public override void Write(ReadOnlySpan<byte> buffer)
    {
        if (!_open && _count + buffer.Length > _size)
        {
            throw new InvalidOperationException($"{Path} was to have {_size} bytes and has more.");
        }

        _hash.AppendData(buffer);
        _crc.Append(buffer);
        _zip.WriteAt(DataOffset + _count, buffer);
        _count += buffer.Length;
    }

    public override void Flush()
    {
    }

    public override int Read(byte[] buffer, int offset, int count) => throw new NotSupportedException();

    public override long Seek(long offset, SeekOrigin origin) => throw new NotSupportedException();

    public override void SetLength(long value) => throw new NotSupportedException();

    internal void SetOpen(int headBytes)
    {
        _open = true;
        HeadBytes = headBytes;
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _hash.Dispose();
        }

        base.Dispose(disposing);
    }
}
