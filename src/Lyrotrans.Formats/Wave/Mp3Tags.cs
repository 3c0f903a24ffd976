namespace Lyrotrans.Formats.Wave;

/// <summary>Tempo and key in the ID3v2 tag that an MP3 file begins with.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
public static class Mp3Tags
{
    private const int MostTagBytes = 1 << 24;

    /// <summary>What the file's tag says; nothing where it has none.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    public static IReadOnlyList<KeyValuePair<string, string>> Read(Stream stream) => Tag(stream) is { } tag ? [.. Id3Tag.Read(tag)] : [];

    /// <summary>Adds frames before those of the tag that a file has, or gives it one; its sound is copied as it is.</summary>
    /// <param name="path">On disk; replaced.</param>
    /// <param name="frames">Of <see cref="TagTexts"/>.</param>
    /// <exception cref="IOException">It cannot be written.</exception>
    public static void Add(string path, Core.Collections.ValueArray<KeyValuePair<string, string>> frames)
    {
        var written = path + ".tagged";
        using (var input = File.OpenRead(path))
        using (var output = File.Create(written))
        {
            var tag = Tag(input);
            output.Write(Id3Tag.With(tag, frames));
            input.Position = tag?.Length ?? 0;
            input.CopyTo(output, 1 << 18);
        }

        File.Move(written, path, overwrite: true);
    }

    private static byte[]? Tag(Stream stream)
    {
        stream.Position = 0;
        var head = new byte[Id3Tag.HeadBytes];
        if (stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false) < head.Length || Id3Tag.LengthOf(head) is not { } length || length > Math.Min(MostTagBytes, stream.Length))
        {
            return null;
        }

        var tag = new byte[length];
        stream.Position = 0;
        stream.ReadExactly(tag);
        return tag;
    }
}
