using System.Security.Cryptography;

namespace Lyrotrans.Web.Endpoints;

/// <summary>The sum of one piece of an upload, as its header says it (tus 1.0.0, Checksum).</summary>
public sealed class UploadChecksum : IDisposable
{
    /// <summary>What can be summed, for the answer to OPTIONS.</summary>
    public const string Algorithms = "sha1,sha256";

    private readonly IncrementalHash _hash;
    private readonly byte[] _said;

    private UploadChecksum(HashAlgorithmName algorithm, byte[] said)
    {
        _hash = IncrementalHash.CreateHash(algorithm);
        _said = said;
    }

    /// <summary>Reads a header such as <c>sha1 Kq5sNclPz7QV2+lfQIuc6R7oRu0=</c>; false where it cannot be checked.</summary>
    /// <param name="header">Empty where none was sent.</param>
    /// <param name="checksum">Null where none was sent.</param>
    public static bool TryRead(string header, out UploadChecksum? checksum)
    {
        checksum = null;
        if (header.Length == 0)
        {
            return true;
        }

        var parts = header.Split(' ');
        HashAlgorithmName? algorithm = parts[0] switch { "sha1" => HashAlgorithmName.SHA1, "sha256" => HashAlgorithmName.SHA256, _ => null };
        var said = new byte[64];
        if (algorithm is null || parts.Length != 2 || !Convert.TryFromBase64String(parts[1], said, out var count))
        {
            return false;
        }

        checksum = new UploadChecksum(algorithm.Value, said[..count]);
        return true;
    }

    /// <summary>Takes the next bytes.</summary>
    public void Take(ReadOnlySpan<byte> bytes) => _hash.AppendData(bytes);

    /// <summary>Whether the bytes are those of the sum.</summary>
    public bool Holds() => _hash.GetHashAndReset().AsSpan().SequenceEqual(_said);

    /// <inheritdoc/>
    public void Dispose() => _hash.Dispose();
}
