using System.Security.Cryptography;
using System.Text;

namespace Lyrotrans.Formats.Omf;

/// <summary>Identifiers of mobs as OMF has them: 12 bytes as lower-case hex, a prefix of ours and 64 bits of what they stand for.</summary>
internal static class OmfId
{
    private const string Prefix = "6c79726f";

    /// <summary>The same role and identity give the same.</summary>
    public static string Of(string role, string identity) => Prefix + Convert.ToHexStringLower(SHA256.HashData(Encoding.UTF8.GetBytes($"{role}\n{identity}")).AsSpan(0, 8));

    public static bool Is(string id) => id.Length == 24 && id.All(char.IsAsciiHexDigitLower);
}
