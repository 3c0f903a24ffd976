using System.Buffers.Binary;
using System.Text;

namespace Lyrotrans.Formats.Flac;

/// <summary>Comments as FLAC and Vorbis have them: who wrote them, then names and values as text.</summary>
/// <remarks>docs/formats/sound.md, section 9.</remarks>
internal static class VorbisComments
{
    /// <summary>Who wrote them, where nobody is said.</summary>
    public const string Vendor = "Lyrotrans";

    /// <summary>Who wrote them, and name and value of each, in their order; nothing past what is damaged.</summary>
    public static (string Vendor, List<KeyValuePair<string, string>> Texts) Read(byte[] body)
    {
        var at = 0;
        var vendor = Text();
        var texts = new List<KeyValuePair<string, string>>();
        if (vendor is null || at + 4 > body.Length)
        {
            return (vendor ?? Vendor, texts);
        }

        var count = BinaryPrimitives.ReadUInt32LittleEndian(body.AsSpan(at));
        at += 4;
        for (var i = 0L; i < count && Text() is { } comment; i++)
        {
            var parts = comment.Split('=', 2);
            texts.Add(new(parts[0], parts.Length > 1 ? parts[1] : string.Empty));
        }

        return (vendor, texts);
        string? Text()
        {
            if (at + 4 > body.Length || BinaryPrimitives.ReadUInt32LittleEndian(body.AsSpan(at)) is var size && size > body.Length - at - 4)
            {
                return null;
            }

            var text = Encoding.UTF8.GetString(body, at + 4, (int)size);
            at += 4 + (int)size;
            return text;
        }
    }

    /// <summary>Them as bytes.</summary>
    public static byte[] Write(string vendor, IReadOnlyList<KeyValuePair<string, string>> texts)
    {
        using var bytes = new MemoryStream();
        Put(vendor);
        Count((uint)texts.Count);
        foreach (var (name, value) in texts)
        {
            Put($"{name}={value}");
        }

        return bytes.ToArray();
        void Put(string text)
        {
            var utf8 = Encoding.UTF8.GetBytes(text);
            Count((uint)utf8.Length);
            bytes.Write(utf8);
        }

        void Count(uint value)
        {
            Span<byte> four = stackalloc byte[4];
            BinaryPrimitives.WriteUInt32LittleEndian(four, value);
            bytes.Write(four);
        }
    }
}
