using System.IO.Hashing;
using System.Security.Cryptography;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Packing;

/// <summary>One file of a package under way. Written front to back; its checksums are kept on the way.</summary>
/// <param name="path">In the package, with <c>/</c>.</param>
public abstract class PackageEntry(string path) : ForwardStream
{
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
    private readonly Crc32 _crc = new();

    /// <summary>In the package, with <c>/</c>.</summary>
    public string Path { get; } = path;

    /// <summary>Of the file in the package, in lower-case hex, once it is finished.</summary>
    public string Sha256 { get; protected set; } = string.Empty;

    /// <summary>Length of the file in the package, in bytes, once it is finished.</summary>
    public virtual long Bytes => Length;

    /// <summary>Of what was written, once it is finished.</summary>
    internal uint Crc32 { get; private set; }

    /// <summary>Says that all of it was written.</summary>
    /// <exception cref="InvalidOperationException">It is not as long as it was said to be.</exception>
    public void Finish()
    {
        Sha256 = Convert.ToHexStringLower(_hash.GetHashAndReset());
        Crc32 = _crc.GetCurrentHashAsUInt32();
        End();
    }

    protected sealed override void Take(ReadOnlySpan<byte> buffer)
    {
        Put(buffer);
        _hash.AppendData(buffer);
        _crc.Append(buffer);
    }

    /// <summary>Puts bytes where they belong; <see cref="ForwardStream.Length"/> still is what was before them.</summary>
    protected abstract void Put(ReadOnlySpan<byte> buffer);

    /// <exception cref="InvalidOperationException">It would be longer than it was said to be.</exception>
    protected void CheckRoom(long? size, long bytes)
    {
        if (bytes > size)
        {
            throw new InvalidOperationException($"{Path} was to have {size} bytes and has more.");
        }
    }

    /// <exception cref="InvalidOperationException">It is shorter than it was said to be.</exception>
    protected void CheckWhole(long? size)
    {
        if (size is { } all && Length != all)
        {
            throw new InvalidOperationException($"{Path} was to have {all} bytes and has {Length}.");
        }
    }

    /// <summary>Does what is left when all bytes were put.</summary>
    protected abstract void End();

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _hash.Dispose();
        }

        base.Dispose(disposing);
    }
}
