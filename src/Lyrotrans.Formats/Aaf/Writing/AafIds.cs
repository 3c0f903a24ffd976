using System.Security.Cryptography;
using System.Text;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>Identifiers made of what they stand for, so that the same session gives the same file.</summary>
internal static class AafIds
{
    // Label, length 13h and a zero instance; the material number follows.
    private static readonly byte[] s_label = [0x06, 0x0A, 0x2B, 0x34, 0x01, 0x01, 0x01, 0x05, 0x01, 0x01, 0x0F, 0x20, 0x13, 0, 0, 0];

    public static byte[] None { get; } = new byte[32];

    public static byte[] Mob(string role, string identity) => [.. s_label, .. Digest(role, identity)];

    public static Guid Auid(string role, string identity) => new(Digest(role, identity));

    /// <summary>The identifier that a medium came with, where it is one of a mob.</summary>
    public static byte[]? Known(string id) => id.Length == 64 && id.All(char.IsAsciiHexDigitLower) && id.StartsWith("060a2b34", StringComparison.Ordinal) ? Convert.FromHexString(id) : null;

    // The digest with the marks of a name-based identifier (RFC 9562, version 8), which readers that look expect.
    private static byte[] Digest(string role, string identity)
    {
        var bytes = SHA256.HashData(Encoding.UTF8.GetBytes($"{role}\n{identity}"))[..16];
        bytes[7] = (byte)((bytes[7] & 0x0F) | 0x80);
        bytes[8] = (byte)((bytes[8] & 0x3F) | 0x80);
        return bytes;
    }
}
