using System.Security.Cryptography;
using Lyrotrans.Workflow.Packing;

namespace Lyrotrans.Workflow.Proving;

/// <summary>
/// A file that is made again, compared byte by byte with the one that was found. Its hash and length are those of what was found, so that what is made of them later
/// says what is in the package.
/// </summary>
internal sealed class ComparedEntry : PackageEntry
{
    private readonly Func<Stream?> _open;
    private readonly byte[] _buffer = new byte[1 << 16];
    private readonly Stream? _found;
    private long _bytes;

    /// <param name="path">In the package.</param>
    /// <param name="open">Opens the found file, front to back; null where there is none.</param>
    public ComparedEntry(string path, Func<Stream?> open)
        : base(path)
    {
        _open = open;
        _found = open();
    }

    /// <summary>Whether there is such a file at all.</summary>
    public bool IsThere => _found is not null;

    /// <summary>The first byte that is another, from 0; null while all are as meant.</summary>
    public long? DiffersAt { get; private set; }

    /// <summary>Of what was made again, in lower-case hex, once it is finished.</summary>
    public string MeantSha256 { get; private set; } = string.Empty;

    public override long Bytes => _bytes;

    protected override void Put(ReadOnlySpan<byte> buffer)
    {
        for (var at = 0; at < buffer.Length && DiffersAt is null && _found is not null;)
        {
            var part = buffer.Slice(at, Math.Min(_buffer.Length, buffer.Length - at));
            var read = _found.ReadAtLeast(_buffer.AsSpan(0, part.Length), part.Length, throwOnEndOfStream: false);
            var same = part.CommonPrefixLength(_buffer.AsSpan(0, read));
            DiffersAt = same < part.Length ? Length + at + same : null;
            at += part.Length;
        }
    }

    protected override void End()
    {
        MeantSha256 = Sha256;
        _bytes = Length;
        if (_found is null)
        {
            return;
        }

        if (DiffersAt is null && _found.ReadByte() >= 0)
        {
            DiffersAt = Length;
        }

        if (DiffersAt is not null)
        {
            using var again = _open()!;
            Sha256 = Convert.ToHexStringLower(SHA256.HashData(again));
            _bytes = again.Length;
        }
    }

    protected override void Dispose(bool disposing)
    {
        if (disposing)
        {
            _found?.Dispose();
        }

        base.Dispose(disposing);
    }
}
