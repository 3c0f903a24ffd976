using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Mutate;

/// <summary>What can be wrong with a WAV file that is well formed, or nearly.</summary>
internal static class WaveMutations
{
    public static IEnumerable<Mutation> Of(string path, byte[] wave)
    {
        Mutation File(string how, Func<byte[], byte[]> change) => Mutation.OfFile(path, how, change);
        var format = Chunk(wave, "fmt ");
        var data = Chunk(wave, "data");
        foreach (var (name, at, bytes) in new[] { ("format tag", 0, 2), ("channels", 2, 2), ("rate", 4, 4), ("byte rate", 8, 4), ("block align", 12, 2), ("bits", 14, 2) })
        {
            yield return File($"another {name}", b => Plus(b, format + at, bytes));
        }

        if (Chunk(wave, "bext") is var stamp && stamp > 0)
        {
            foreach (var (name, at) in new[] { ("description", 3), ("originator", 256), ("reference", 288), ("date", 320), ("time", 330), ("time stamp", 338), ("time stamp's high word", 342), ("version", 346), ("UMID", 348), ("reserved byte", 420) })
            {
                yield return File($"another {name}", b => Plus(b, stamp + at, 1));
            }
        }

        yield return File("another size of the data", b => Plus(b, data - 4, 4));
        yield return File("another size of the file", b => Plus(b, 4, 4));
        yield return File("a second data chunk", b => Appended(b, "data", b[data..Math.Min(b.Length, data + 400)]));
        yield return File("an iXML of another rate", b => Appended(b, "iXML", Encoding.ASCII.GetBytes("<BWFXML><SPEED><FILE_SAMPLE_RATE>44100</FILE_SAMPLE_RATE></SPEED></BWFXML> ")));
        yield return File("a note in it", b => Appended(b, "LIST", Encoding.ASCII.GetBytes("INFOICMT\u0004\0\0\0who ")));
        yield return File("bytes after its end", b => [.. b, 1, 2, 3, 4]);
        yield return File("one sample's last bit", b => Changed(b, data + ((b.Length - data) / 3), 1));
        yield return File("all of it a sample later", b => Later(b, data));
        yield return File("silence in a second of it", b => Silent(b, data));
    }

    public static int Chunk(byte[] wave, string id)
    {
        for (var at = 12; at + 8 <= wave.Length; at += 8 + (((int)BinaryPrimitives.ReadUInt32LittleEndian(wave.AsSpan(at + 4)) + 1) & ~1))
        {
            if (Encoding.ASCII.GetString(wave, at, 4) == id)
            {
                return at + 8;
            }
        }

        return -1;
    }

    private static byte[] Changed(byte[] bytes, int at, byte bits)
    {
        var copy = (byte[])bytes.Clone();
        copy[at] ^= bits;
        return copy;
    }

    private static byte[] Plus(byte[] bytes, int at, int size)
    {
        var copy = (byte[])bytes.Clone();
        for (var i = 0; i < size && ++copy[at + i] == 0; i++)
        {
        }

        return copy;
    }

    private static byte[] Appended(byte[] wave, string id, byte[] content)
    {
        byte[] all = [.. wave, .. Encoding.ASCII.GetBytes(id), .. BitConverter.GetBytes(content.Length), .. content, .. new byte[content.Length & 1]];
        BinaryPrimitives.WriteUInt32LittleEndian(all.AsSpan(4), (uint)all.Length - 8);
        return all;
    }

    private static byte[] Later(byte[] wave, int data)
    {
        var frame = BinaryPrimitives.ReadUInt16LittleEndian(wave.AsSpan(Chunk(wave, "fmt ") + 12));
        var copy = (byte[])wave.Clone();
        var end = data + (int)BinaryPrimitives.ReadUInt32LittleEndian(wave.AsSpan(data - 4));
        wave.AsSpan(data, end - data - frame).CopyTo(copy.AsSpan(data + frame));
        copy.AsSpan(data, frame).Clear();
        return copy;
    }

    private static byte[] Silent(byte[] wave, int data)
    {
        var copy = (byte[])wave.Clone();
        copy.AsSpan(data + ((wave.Length - data) / 3), Math.Min(144_000, (wave.Length - data) / 3)).Clear();
        return copy;
    }
}
