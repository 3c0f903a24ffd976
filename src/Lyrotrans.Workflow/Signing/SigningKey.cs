using System.Security.Cryptography;
using Org.BouncyCastle.Crypto.Parameters;
using Org.BouncyCastle.Crypto.Signers;

namespace Lyrotrans.Workflow.Signing;

/// <summary>A key that packages are signed with: Ed25519 (RFC 8032). The same bytes get the same signature.</summary>
public sealed class SigningKey
{
    /// <summary>The length of a signature.</summary>
    public const int SignatureBytes = 64;

    // PKCS #8 of Ed25519 (RFC 8410, section 7), up to the key itself.
    private static readonly byte[] s_head = Convert.FromHexString("302E020100300506032B657004220420");
    private readonly Ed25519PrivateKeyParameters _key;

    /// <param name="secret">32 bytes that nobody else knows.</param>
    /// <exception cref="ArgumentException">Not of 32 bytes.</exception>
    public SigningKey(ReadOnlySpan<byte> secret)
    {
        if (secret.Length != PublicKey.Bytes)
        {
            throw new ArgumentException($"A signing key has {PublicKey.Bytes} bytes, not {secret.Length}.", nameof(secret));
        }

        _key = new Ed25519PrivateKeyParameters(secret.ToArray());
        Public = new PublicKey(_key.GeneratePublicKey().GetEncoded());
    }

    /// <summary>What others know it by.</summary>
    public PublicKey Public { get; }

    /// <summary>The 32 bytes; for whoever keeps them.</summary>
    public byte[] Secret => _key.GetEncoded();

    /// <summary>A new key.</summary>
    public static SigningKey New() => new(RandomNumberGenerator.GetBytes(PublicKey.Bytes));

    /// <summary>64 bytes.</summary>
    public byte[] Sign(ReadOnlySpan<byte> bytes)
    {
        var signer = new Ed25519Signer();
        signer.Init(forSigning: true, _key);
        signer.BlockUpdate(bytes);
        return signer.GenerateSignature();
    }

    /// <summary>As PEM, without a password: whoever reads it can sign.</summary>
    public string ToPem() => PemEncoding.WriteString("PRIVATE KEY", [.. s_head, .. Secret]) + "\n";

    /// <summary>Reads PEM; null where it is none of Ed25519.</summary>
    public static SigningKey? FromPem(string text) => PublicKey.Der(text, "PRIVATE KEY", s_head) is { } secret ? new SigningKey(secret) : null;
}
