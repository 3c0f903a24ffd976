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

    /// <summary>
    /// The same identifier as the other kind of files writes it: its material number is one of 4, 2, 2 and 8 bytes, whose first three stand the other way round in files
    /// whose numbers begin with their lowest byte.
    /// </summary>
    /// <param name="id">64 digits.</param>
    public static string OtherOrder(string id)
    {
        var pairs = id.Chunk(2).Select(p => new string(p)).ToArray();
        Array.Reverse(pairs, 16, 4);
        Array.Reverse(pairs, 20, 2);
        Array.Reverse(pairs, 22, 2);
        return string.Concat(pairs);
    }

    /// <summary>The forms in which an identifier of a medium may stand in a sound file.</summary>
    public static IEnumerable<string> Forms(string id) => Whole(id) is { } whole ? [whole, OtherOrder(whole)] : [id];

    /// <summary>16 bytes with the marks of a name-based identifier (RFC 9562, version 8).</summary>
    public static byte[] Material(string role, string identity)
    {
        var bytes = SHA256.HashData(Encoding.UTF8.GetBytes($"{role}\n{identity}"))[..16];
        bytes[7] = (byte)((bytes[7] & 0x0F) | 0x80);
        bytes[8] = (byte)((bytes[8] & 0x3F) | 0x80);
        return bytes;
    }
}
