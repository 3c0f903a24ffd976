using System.Buffers.Text;
using System.Security.Cryptography;

namespace Lyrotrans.Web.Links;

/// <summary>What a link is known by: 256 random bits, as 43 letters, digits, <c>-</c> and <c>_</c> in an address. Only its sum is kept.</summary>
public readonly record struct LinkToken
{
    private const int Bytes = 32;

    private LinkToken(string text) => Text = text;

    /// <summary>As it stands in an address.</summary>
    public string Text { get; }

    /// <summary>What is kept of it, in lower-case hex.</summary>
    public string Sha256 => Convert.ToHexStringLower(SHA256.HashData(Base64Url.DecodeFromChars(Text)));

    /// <summary>One that nobody had.</summary>
    public static LinkToken New() => new(Base64Url.EncodeToString(RandomNumberGenerator.GetBytes(Bytes)));

    /// <summary>One that somebody asks by; null where it can be none.</summary>
    public static LinkToken? Of(string? text) =>
        text is { Length: 43 } && Base64Url.IsValid(text, out var length) && length == Bytes && Base64Url.EncodeToString(Base64Url.DecodeFromChars(text)) == text ? new LinkToken(text) : null;
}
