using System.Security.Cryptography;
using Lyrotrans.Formats.Binary;

namespace Lyrotrans.Workflow.Build;

/// <summary>Passes bytes on and keeps their SHA-256 and count.</summary>
internal sealed class HashingStream(Stream inner) : ForwardStream
{
    private readonly IncrementalHash _hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);

    /// <summary>Lower-case hex; ends the counting.</summary>
    public string Sha256() => Convert.ToHexStringLower(_hash.GetHashAndReset());

    public override void Flush() => inner.Flush();

    protected override void Take(ReadOnlySpan<byte> buffer)
    {
        _hash.AppendData(buffer);
        inner.Write(buffer);
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
