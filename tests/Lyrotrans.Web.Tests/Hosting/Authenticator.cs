using System.Buffers.Binary;
using System.Security.Cryptography;

namespace Lyrotrans.Web.Tests.Hosting;

/// <summary>A phone's authenticator, by the arithmetic of RFC 6238 and nothing of the application's.</summary>
public static class Authenticator
{
    private const string Letters = "ABCDEFGHIJKLMNOPQRSTUVWXYZ234567";

    /// <summary>The six digits of a key in base 32, so many steps of 30 s from now.</summary>
    public static string Code(string key, int step = 0)
    {
        var bits = string.Concat(key.Where(c => c != ' ').Select(c => Convert.ToString(Letters.IndexOf(char.ToUpperInvariant(c), StringComparison.Ordinal), 2).PadLeft(5, '0')));
        var secret = Enumerable.Range(0, bits.Length / 8).Select(i => Convert.ToByte(bits.Substring(i * 8, 8), 2)).ToArray();
        var counter = new byte[8];
        BinaryPrimitives.WriteInt64BigEndian(counter, (DateTimeOffset.UtcNow.ToUnixTimeSeconds() / 30) + step);
#pragma warning disable CA5350 // The standard's own hash.
        var hash = HMACSHA1.HashData(secret, counter);
#pragma warning restore CA5350
        var number = BinaryPrimitives.ReadInt32BigEndian(hash.AsSpan(hash[^1] & 15, 4)) & int.MaxValue;
        return $"{number % 1_000_000:000000}";
    }
}
