using System.Security.Cryptography;
using Org.BouncyCastle.Math.EC.Rfc8032;

namespace Lyrotrans.Workflow.Signing;

/// <summary>The public half of a key that packages are signed with: Ed25519, 32 bytes (RFC 8032).</summary>
public sealed class PublicKey : IEquatable<PublicKey>
{
    /// <summary>Its length.</summary>
    public const int Bytes = 32;

    // SubjectPublicKeyInfo of Ed25519 (RFC 8410, section 4), up to the key itself.
    private static readonly byte[] s_head = Convert.FromHexString("302A300506032B6570032100");
    private readonly byte[] _key;

    /// <exception cref="ArgumentException">Not of 32 bytes.</exception>
    public PublicKey(ReadOnlySpan<byte> key) => _key = key.Length == Bytes ? key.ToArray() : throw new ArgumentException($"A public key has {Bytes} bytes, not {key.Length}.", nameof(key));

    /// <summary>The key itself.</summary>
    public ReadOnlySpan<byte> Key => _key;

    /// <summary>SHA-256 of the key as SubjectPublicKeyInfo, in lower-case hex: for programs.</summary>
    public string Fingerprint => Convert.ToHexStringLower(SHA256.HashData([.. s_head, .. _key]));

    /// <summary>The fingerprint in groups of four: for people who read it to each other.</summary>
    public string Words => string.Join(' ', Fingerprint.Chunk(4).Select(c => new string(c)));

    /// <summary>As PEM, for other programs.</summary>
    public string ToPem() => PemEncoding.WriteString("PUBLIC KEY", [.. s_head, .. _key]) + "\n";

    /// <summary>Reads PEM; null where it is none of Ed25519.</summary>
    public static PublicKey? FromPem(string text) => Der(text, "PUBLIC KEY", s_head) is { } key ? new PublicKey(key) : null;

    /// <summary>Whether a signature is this key's for some bytes. Half of all 32 bytes are no point of the curve (RFC 8032, 5.1.3): such a key has signed nothing.</summary>
    public bool Verifies(ReadOnlySpan<byte> bytes, ReadOnlySpan<byte> signature) =>
        signature.Length == SigningKey.SignatureBytes && Ed25519.Verify(signature.ToArray(), 0, _key, 0, bytes.ToArray(), 0, bytes.Length);

    public bool Equals(PublicKey? other) => other is not null && _key.AsSpan().SequenceEqual(other._key);

    public override bool Equals(object? obj) => Equals(obj as PublicKey);

    public override int GetHashCode() => BitConverter.ToInt32(_key);

    /// <summary>The 32 bytes behind a fixed head, in PEM of a label.</summary>
    internal static byte[]? Der(string text, string label, byte[] head)
    {
        if (!PemEncoding.TryFind(text, out var fields) || text[fields.Label] != label)
        {
            return null;
        }

        var der = Convert.FromBase64String(text[fields.Base64Data]);
        return der.Length == head.Length + Bytes && der.AsSpan().StartsWith(head) ? der[head.Length..] : null;
    }
}
