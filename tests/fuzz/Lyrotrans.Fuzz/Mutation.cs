using System.Buffers.Binary;

namespace Lyrotrans.Fuzz;

/// <summary>Changes a file as damage, cutting and malice do.</summary>
internal static class Mutation
{
    private static readonly uint[] s_telling = [0, 1, 2, 0x7F, 0x80, 0xFF, 0x100, 0x7FFF, 0x8000, 0xFFFF, 0x10000, 0x7FFFFFFF, 0x80000000, 0xFFFFFFFA, 0xFFFFFFFE, 0xFFFFFFFF, 1_000_000_000];

    public static byte[] Of(byte[] seed, byte[] other, Random random)
    {
        var bytes = (byte[])seed.Clone();
        for (var count = 1 << random.Next(6); count > 0 && bytes.Length > 16; count--)
        {
            var at = random.Next(bytes.Length - 8);
            switch (random.Next(8))
            {
                case 0:
                    bytes[at] ^= (byte)(1 << random.Next(8));
                    break;
                case 1:
                    bytes[at] = (byte)random.Next(256);
                    break;
                case 2 or 3:
                    BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(at & ~3), s_telling[random.Next(s_telling.Length)]);
                    break;
                case 4:
                    var length = Math.Min(random.Next(1, 129), Math.Min(bytes.Length - at, bytes.Length - random.Next(bytes.Length)));
                    bytes.AsSpan(random.Next(bytes.Length - length + 1), length).CopyTo(bytes.AsSpan(at, length));
                    break;
                case 5:
                    // Directory entries and sectors trade places as a whole.
                    var unit = random.Next(2) == 0 ? 128 : 512;
                    var from = random.Next(other.Length / unit) * unit;
                    var to = random.Next(bytes.Length / unit) * unit;
                    other.AsSpan(from, Math.Min(unit, Math.Min(other.Length - from, bytes.Length - to))).CopyTo(bytes.AsSpan(to));
                    break;
                case 6:
                    var small = bytes[at] + random.Next(-2, 3);
                    bytes[at] = (byte)small;
                    break;
                default:
                    if (random.Next(10) == 0)
                    {
                        bytes = bytes[..random.Next(16, bytes.Length)];
                    }

                    break;
            }
        }

        return bytes;
    }
}
