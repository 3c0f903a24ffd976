using System.IO.Hashing;
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
    private readonly (long From, long To) _computed;
    private readonly Stream? _found;
    private long _bytes;

    /// <param name="path">In the package.</param>
    /// <param name="open">Opens the found file, front to back; null where there is none.</param>
    /// <param name="computed">The bytes that another machine may have made otherwise, from and to; none where both are equal.</param>
    public ComparedEntry(string path, Func<Stream?> open, (long From, long To) computed)
        : base(path)
    {
        _open = open;
        _computed = computed;
        _found = open();
    }

    /// <summary>Whether there is such a file at all.</summary>
    public bool IsThere => _found is not null;

    /// <summary>The first byte that is another, from 0, and may not be; null while all are as meant.</summary>
    public long? DiffersAt { get; private set; }

    /// <summary>Whether any byte is another, those too that another machine may have made otherwise.</summary>
    public bool Differs { get; private set; }

    /// <summary>Of what was made again, in lower-case hex, once it is finished.</summary>
    public string MeantSha256 { get; private set; } = string.Empty;

    /// <summary>Of what was found, where it differs.</summary>
    public uint FoundCrc32 { get; private set; }

    public override long Bytes => _bytes;

    protected override void Put(ReadOnlySpan<byte> buffer)
    {
        for (var at = 0; at < buffer.Length && DiffersAt is null && _found is not null;)
        {
            var part = buffer.Slice(at, Math.Min(_buffer.Length, buffer.Length - at));
            var read = _found.ReadAtLeast(_buffer.AsSpan(0, part.Length), part.Length, throwOnEndOfStream: false);
            Compare(Length + at, part, _buffer.AsSpan(0, read));
            at += part.Length;
        }
    }

    private void Compare(long place, ReadOnlySpan<byte> meant, ReadOnlySpan<byte> found)
    {
        var same = meant.CommonPrefixLength(found);
        if (same == meant.Length)
        {
            return;
        }

        Differs = true;
        if (place + same < _computed.From || place + same >= _computed.To)
        {
            DiffersAt = place + same;
            return;
        }

        // What comes behind the computed bytes counts again.
        var behind = (int)Math.Min(meant.Length, _computed.To - place);
        if (behind < meant.Length)
        {
            Compare(place + behind, meant[behind..], found[Math.Min(behind, found.Length)..]);
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
            Differs = true;
            DiffersAt = Length >= _computed.From && Length < _computed.To ? null : Length;
        }

        if (Differs)
        {
            MeasureFound();
        }
    }

    private void MeasureFound()
    {
        using var found = _open()!;
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        var crc = new Crc32();
        int read;
        while ((read = found.Read(_buffer)) > 0)
        {
            hash.AppendData(_buffer, 0, read);
            crc.Append(_buffer.AsSpan(0, read));
        }

        (Sha256, FoundCrc32, _bytes) = (Convert.ToHexStringLower(hash.GetHashAndReset()), crc.GetCurrentHashAsUInt32(), found.Length);
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
