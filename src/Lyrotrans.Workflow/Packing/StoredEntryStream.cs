using System.IO.Hashing;
using System.Security.Cryptography;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Packing;

/// <summary>One entry of a zip under way. Written front to back; its checksums are kept on the way.</summary>
public sealed class StoredEntryStream : ForwardStream
{
    private readonly StoredZip _zip;
    private readonly long _size;
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly Crc32 _crc = new();
    private bool _open;

    internal StoredEntryStream(StoredZip zip, string path, long offset, long size, int headBytes)
    {
        _zip = zip;
        _size = size;
        Path = path;
        Offset = offset;
        HeadBytes = headBytes;
    }

    /// <summary>Of the entry, with <c>/</c>.</summary>
    public string Path { get; }

    /// <summary>Lower-case hex, once it is finished.</summary>
    public string Sha256 { get; private set; } = string.Empty;

    internal long Offset { get; }

    internal int HeadBytes { get; private set; }

    internal long DataOffset => Offset + HeadBytes;

    internal uint Crc32 { get; private set; }

    /// <summary>Writes what is known only at the end.</summary>
    /// <exception cref="InvalidOperationException">It is not as long as it was said to be.</exception>
    public void Finish()
    {
        if (!_open && Length != _size)
        {
            throw new InvalidOperationException($"{Path} was to have {_size} bytes and has {Length}.");
        }

        Sha256 = Convert.ToHexStringLower(_hash.GetHashAndReset());
        Crc32 = _crc.GetCurrentHashAsUInt32();
        _zip.Close(this);
    }

    internal void SetOpen(int headBytes)
    {
        _open = true;
        HeadBytes = headBytes;
    }

    protected override void Take(ReadOnlySpan<byte> buffer)
    {
        if (!_open && Length + buffer.Length > _size)
        {
            throw new InvalidOperationException($"{Path} was to have {_size} bytes and has more.");
        }

        _hash.AppendData(buffer);
        _crc.Append(buffer);
        _zip.WriteAt(DataOffset + Length, buffer);
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
