using Lyrotrans.Formats.Flac;

namespace Lyrotrans.Formats.Ogg;

/// <summary>The comments of an Ogg file of Vorbis: names and values as text, in the second packet of its stream.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
public static class OggComments
{
    private const int MostPacketBytes = 1 << 24;

    /// <summary>Name and value of each, in the file's order; nothing where there are none, and nothing of what is damaged.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    public static IReadOnlyList<KeyValuePair<string, string>> Read(Stream stream)
    {
        stream.Position = 0;
        return First(stream) is not null && Packets(stream, 1) is [var comments] && IsComments(comments) ? VorbisComments.Read(comments.AsSpan(7).ToArray()).Texts : [];
    }

    /// <summary>Adds comments behind those that a file has; its sound is copied as it is.</summary>
    /// <param name="path">On disk; replaced.</param>
    /// <param name="more">Names without <c>=</c>, and values.</param>
    /// <exception cref="InvalidDataException">It is no Ogg file of Vorbis whose headers can be read.</exception>
    /// <exception cref="IOException">It cannot be written.</exception>
    public static void Add(string path, IReadOnlyList<KeyValuePair<string, string>> more)
    {
        var written = path + ".tagged";
        using (var input = File.OpenRead(path))
        {
            if (First(input) is not { } first || Packets(input, 2) is not [var comments, var setup] || !IsComments(comments))
            {
                throw new InvalidDataException($"{path} is no Ogg file of Vorbis whose headers can be read.");
            }

            var (vendor, texts) = VorbisComments.Read(comments.AsSpan(7).ToArray());
            using var output = File.Create(written);
            first.Write(output);
            var number = 1u;
            foreach (var page in Pages(first.Serial, [[.. comments.AsSpan(0, 7), .. VorbisComments.Write(vendor, [.. texts, .. more]), 1], setup]))
            {
                page.Number = number++;
                page.Write(output);
            }

            while (OggPage.Read(input) is { } page)
            {
                page.Number = number++;
                page.Write(output);
            }
        }

        File.Move(written, path, overwrite: true);
    }

    private static bool IsComments(byte[] packet) => packet.AsSpan().StartsWith("\u0003vorbis"u8);

    /// <summary>The page of the stream's first header; null where it is of another codec.</summary>
    private static OggPage? First(Stream stream) => OggPage.Read(stream) is { } page && (page.Flags & OggPage.Begins) != 0 && page.Body.AsSpan().StartsWith("\u0001vorbis"u8) ? page : null;

    /// <summary>The next packets; null where they end before, or inside a page that goes on with something else: headers end with a page.</summary>
    private static List<byte[]>? Packets(Stream stream, int count)
    {
        var packets = new List<byte[]>();
        using var packet = new MemoryStream();
        while (packets.Count < count && OggPage.Read(stream) is { } page)
        {
            var at = 0;
            foreach (var piece in page.Pieces)
            {
                packet.Write(page.Body, at, piece);
                at += piece;
                if (packet.Length > MostPacketBytes)
                {
                    return null;
                }

                if (piece < byte.MaxValue && packets.Count < count)
                {
                    packets.Add(packet.ToArray());
                    packet.SetLength(0);
                }
            }

            if (packets.Count == count && count > 1 && packet.Length > 0)
            {
                return null;
            }
        }

        return packets.Count == count ? packets : null;
    }

    private static IEnumerable<OggPage> Pages(uint serial, byte[][] packets)
    {
        var pieces = packets.SelectMany(p => Enumerable.Repeat(byte.MaxValue, p.Length / byte.MaxValue).Append((byte)(p.Length % byte.MaxValue))).ToList();
        byte[] body = [.. packets.SelectMany(p => p)];
        var at = 0;
        for (var from = 0; from < pieces.Count; from += OggPage.MostPieces)
        {
            byte[] own = [.. pieces.Skip(from).Take(OggPage.MostPieces)];
            var length = own.Sum(p => p);
            yield return OggPage.OfHeaders(serial, 0, from > 0 && pieces[from - 1] == byte.MaxValue, own, body[at..(at + length)]);
            at += length;
        }
    }
}
