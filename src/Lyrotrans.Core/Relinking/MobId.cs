using System.Security.Cryptography;
using System.Text;

namespace Lyrotrans.Core.Relinking;

/// <summary>Identifiers of media as file formats of the trade have them (SMPTE ST 330, 32 bytes), made of what they stand for.</summary>
public static class MobId
{
    // Label, length 13h and a zero instance; the material number follows.
    private const string Label = "060a2b340101010501010f2013000000";

    /// <summary>Lower-case hex of 32 bytes; the same role and identity give the same.</summary>
    public static string Of(string role, string identity) => Label + Convert.ToHexStringLower(Material(role, identity));

    /// <summary>Whether a text has the form of an identifier that was made here: 64 digits, lower-case hex.</summary>
    public static bool Is(string id) => id.Length == 64 && id.StartsWith(Label[..8], StringComparison.Ordinal) && id.All(char.IsAsciiHexDigitLower);

    /// <summary>An identifier as 32 bytes: one of 12 becomes the label and then these; null where it is neither.</summary>
    public static string? Whole(string id) => id.Length == 64 ? id : id.Length == 24 ? $"{Label}{id}00000000" : null;

    /// <summary>16 bytes with the marks of a name-based identifier (RFC 9562, version 8).</summary>
    public static byte[] Material(string role, string identity)
    {
        var bytes = SHA256.HashData(Encoding.UTF8.GetBytes($"{role}\n{identity}"))[..16];
        bytes[7] = (byte)((bytes[7] & 0x0F) | 0x80);
        bytes[8] = (byte)((bytes[8] & 0x3F) | 0x80);
        return bytes;
    }
}
