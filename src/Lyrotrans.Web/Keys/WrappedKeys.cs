using System.Security.Cryptography;
using System.Xml.Linq;

namespace Lyrotrans.Web.Keys;

/// <summary>
/// Keeps the application's own keys under one that lies elsewhere (AES-256-GCM). A key of the settings is known again by the first bytes of its hash, so that
/// several can be there while the newest takes over.
/// </summary>
public sealed class WrappedKeys(IReadOnlyList<byte[]> keys)
{
    private const string Name = "wrapped";
    private const int NonceBytes = 12;
    private const int TagBytes = 16;

    /// <summary>An element that only the newest key opens.</summary>
    public XElement Wrap(XElement plain)
    {
        var bytes = System.Text.Encoding.UTF8.GetBytes(plain.ToString(SaveOptions.DisableFormatting));
        var box = new byte[NonceBytes + TagBytes + bytes.Length];
        RandomNumberGenerator.Fill(box.AsSpan(0, NonceBytes));
        using var cipher = new AesGcm(keys[0], TagBytes);
        cipher.Encrypt(box.AsSpan(0, NonceBytes), bytes, box.AsSpan(NonceBytes + TagBytes), box.AsSpan(NonceBytes, TagBytes));
        return new XElement(Name, new XAttribute("key", IdOf(keys[0])), Convert.ToBase64String(box));
    }

    /// <summary>What an element of <see cref="Wrap"/> was.</summary>
    /// <exception cref="CryptographicException">No key of the settings opens it.</exception>
    public XElement Unwrap(XElement wrapped)
    {
        var key = keys.FirstOrDefault(k => IdOf(k) == (string?)wrapped.Attribute("key"))
            ?? throw new CryptographicException("The key that this was kept under is not in the file that LYRO_KEY_FILE names. Put it back, on a line below the newest.");
        var box = Convert.FromBase64String(wrapped.Value);
        var bytes = new byte[box.Length - NonceBytes - TagBytes];
        using var cipher = new AesGcm(key, TagBytes);
        cipher.Decrypt(box.AsSpan(0, NonceBytes), box.AsSpan(NonceBytes + TagBytes), box.AsSpan(NonceBytes, TagBytes), bytes);
        return XElement.Parse(System.Text.Encoding.UTF8.GetString(bytes));
    }

    /// <summary>Whether the newest key is the one that an element is under.</summary>
    public bool IsNewest(XElement wrapped) => (string?)wrapped.Attribute("key") == IdOf(keys[0]);

    private static string IdOf(byte[] key) => Convert.ToHexStringLower(SHA256.HashData(key))[..16];
}
