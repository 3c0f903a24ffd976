using System.Text.Json;
using Lyrotrans.Core.Errors;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Workflow.Signing;

/// <summary>The signature of a package's manifest or of a report, as it lies beside it.</summary>
/// <param name="Key">Whose it is said to be.</param>
/// <param name="Signature">64 bytes over the bytes of the file.</param>
/// <param name="Of">The name of the file.</param>
public sealed record DetachedSignature(PublicKey Key, byte[] Signature, string Of)
{
    /// <summary>What a package's signature is of.</summary>
    public const string Manifest = "manifest.json";

    private const int Version = 1;
    private const string VersionProperty = "lyrotransSignature";
    private const string Algorithm = "Ed25519";

    /// <summary>Signs a file.</summary>
    /// <param name="bytes">All of it.</param>
    /// <param name="key">Whose.</param>
    /// <param name="name">Of the file; a package's manifest where it is not said.</param>
    public static DetachedSignature Sign(ReadOnlySpan<byte> bytes, SigningKey key, string name = Manifest) => new(key.Public, key.Sign(bytes), name);

    /// <summary>Whether it is the key's for these bytes.</summary>
    public bool IsOf(ReadOnlySpan<byte> bytes) => Key.Verifies(bytes, Signature);

    /// <summary>As UTF-8 JSON; the same signature gives the same bytes.</summary>
    public byte[] ToJson()
    {
        using var output = new MemoryStream();
        using (var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, NewLine = "\n" }))
        {
            json.WriteStartObject();
            json.WriteNumber(VersionProperty, Version);
            json.WriteString("algorithm", Algorithm);
            json.WriteString("of", Of);
            json.WriteString("publicKey", Convert.ToHexStringLower(Key.Key));
            json.WriteString("signature", Convert.ToHexStringLower(Signature));
            json.WriteEndObject();
        }

        return output.ToArray();
    }

    /// <exception cref="BadInputException">It is none, or of a newer version.</exception>
    public static DetachedSignature FromJson(ReadOnlyMemory<byte> bytes, string name)
    {
        using var document = JsonInput.Parse(bytes, name);
        var root = new DocumentNode(document.RootElement, DocumentPath.Root, name);
        _ = root[VersionProperty];
        DocumentVersion.Read(root, VersionProperty, Version);
        root.OnlyHas(VersionProperty, "algorithm", "of", "publicKey", "signature");
        return root["algorithm"].Text() == Algorithm
            ? new DetachedSignature(new PublicKey(Hex(root["publicKey"], PublicKey.Bytes)), Hex(root["signature"], SigningKey.SignatureBytes), root["of"].Text())
            : throw root["algorithm"].Error(DocumentCodes.Unknown, $"Only {Algorithm} is known here.");
    }

    private static byte[] Hex(DocumentNode node, int bytes)
    {
        var text = node.Text();
        return text.Length == 2 * bytes && text.All(char.IsAsciiHexDigit) ? Convert.FromHexString(text) : throw node.Error(DocumentCodes.BadValue, $"It must be {2 * bytes} hex digits.");
    }
}
