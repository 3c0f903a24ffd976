namespace Lyrotrans.Formats.Flac;

/// <summary>The comments of a FLAC file: names and values as text.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
public static class FlacComments
{
    /// <summary>The name of the tempo.</summary>
    public const string Tempo = "BPM";

    /// <summary>The name of the key.</summary>
    public const string Key = "KEY";

    private const int CommentBlock = 4;
    private const int LastBlock = 0x80;
    private const int MostBlockBytes = (1 << 24) - 1;

    /// <summary>Name and value of each, in the file's order; nothing where there are none, and nothing past what is damaged.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    public static IReadOnlyList<KeyValuePair<string, string>> Read(Stream stream) =>
        Blocks(stream) is { } blocks && blocks.Find(b => b.Type == CommentBlock).Body is { } body ? VorbisComments.Read(body).Texts : [];

    /// <summary>Adds comments behind those that a file has; its sound is copied as it is.</summary>
    /// <param name="path">On disk; replaced.</param>
    /// <param name="more">Names without <c>=</c>, and values.</param>
    /// <exception cref="InvalidDataException">It is no FLAC file whose blocks can be read.</exception>
    /// <exception cref="IOException">It cannot be written.</exception>
    public static void Add(string path, IReadOnlyList<KeyValuePair<string, string>> more)
    {
        var written = path + ".tagged";
        using (var input = File.OpenRead(path))
        {
            var blocks = Blocks(input) ?? throw new InvalidDataException($"{path} is no FLAC file whose blocks can be read.");
            var at = blocks.FindIndex(b => b.Type == CommentBlock);
            var (vendor, texts) = at < 0 ? (VorbisComments.Vendor, []) : VorbisComments.Read(blocks[at].Body);
            var block = (CommentBlock, Block(VorbisComments.Write(vendor, [.. texts, .. more])));
            blocks = [.. blocks.Take(1), block, .. blocks.Skip(1).Where(b => b.Type != CommentBlock)];
            using var output = File.Create(written);
            output.Write("fLaC"u8);
            for (var i = 0; i < blocks.Count; i++)
            {
                var (type, body) = blocks[i];
                output.Write([(byte)(type | (i == blocks.Count - 1 ? LastBlock : 0)), (byte)(body.Length >> 16), (byte)(body.Length >> 8), (byte)body.Length]);
                output.Write(body);
            }

            input.CopyTo(output, 1 << 18);
        }

        File.Move(written, path, overwrite: true);
    }

    // The stream stands at the first frame then.
    private static List<(int Type, byte[] Body)>? Blocks(Stream stream)
    {
        stream.Position = 0;
        var head = new byte[4];
        if (stream.ReadAtLeast(head, 4, throwOnEndOfStream: false) < 4 || !head.AsSpan().SequenceEqual("fLaC"u8))
        {
            return null;
        }

        var blocks = new List<(int, byte[])>();
        while (stream.ReadAtLeast(head, 4, throwOnEndOfStream: false) == 4)
        {
            var size = (head[1] << 16) | (head[2] << 8) | head[3];
            if (size > stream.Length - stream.Position)
            {
                return null;
            }

            var body = new byte[size];
            stream.ReadExactly(body);
            blocks.Add((head[0] & 0x7F, body));
            if ((head[0] & LastBlock) != 0)
            {
                return blocks;
            }
        }

        return null;
    }

    private static byte[] Block(byte[] body) => body.Length <= MostBlockBytes ? body : throw new InvalidDataException("The comments are longer than a block can be.");
}
