using System.Buffers.Binary;
using System.Security.Cryptography;
using System.Text;

namespace Lyrotrans.Audio.Pcm;

/// <summary>The noise that is added before rounding, and where it begins: the same facts give the same noise, others give noise that has nothing in common with it.</summary>
/// <param name="Noise">Its form.</param>
/// <param name="Seed">Where it begins.</param>
public readonly record struct Dither(DitherNoise Noise, ulong Seed)
{
    /// <summary>No noise: plain rounding.</summary>
    public static Dither None => default;

    /// <param name="noise">Its form.</param>
    /// <param name="facts">What tells the file from all others, and is known before its samples are.</param>
    public static Dither Of(DitherNoise noise, string facts) =>
        noise == DitherNoise.None ? None : new Dither(noise, First(Encoding.UTF8.GetBytes(facts)));

    /// <summary>Where the noise of one channel begins: each has its own, so that it does not matter how many samples are made at once.</summary>
    public ulong SeedOf(int channel)
    {
        Span<byte> facts = stackalloc byte[sizeof(ulong) + sizeof(int)];
        BinaryPrimitives.WriteUInt64BigEndian(facts, Seed);
        BinaryPrimitives.WriteInt32BigEndian(facts[sizeof(ulong)..], channel);
        return First(facts);
    }

    private static ulong First(ReadOnlySpan<byte> facts) => BinaryPrimitives.ReadUInt64BigEndian(SHA256.HashData(facts));
}
