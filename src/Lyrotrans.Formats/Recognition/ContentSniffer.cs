using System.Text;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Omf;

namespace Lyrotrans.Formats.Recognition;

/// <summary>Recognises a file by its content, never by its name.</summary>
public static class ContentSniffer
{
    public static ContentKind Recognise(Stream stream)
    {
        stream.Position = 0;
        Span<byte> head = stackalloc byte[512];
        var count = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        stream.Position = 0;

        // OMF has no head of its own: its label is at the end, and what it begins with is the first value that was written.
        return OmfDocument.Is(stream) ? ContentKind.Omf : Recognise(head[..count]);
    }

    public static ContentKind Recognise(ReadOnlySpan<byte> head)
    {
        if (head.Length == 0)
        {
            return ContentKind.Empty;
        }

        var text = Encoding.Latin1.GetString(head);
        return text switch
        {
            _ when Form(text, ["RIFF", "RF64", "BW64"], ["WAVE"]) => ContentKind.Wave,
            _ when Form(text, ["FORM"], ["AIFF", "AIFC"]) => ContentKind.Aiff,
            _ when text.StartsWith("fLaC", StringComparison.Ordinal) => ContentKind.Flac,
            _ when text.StartsWith("OggS", StringComparison.Ordinal) => ContentKind.Ogg,
            _ when text.StartsWith("MThd", StringComparison.Ordinal) || Form(text, ["RIFF"], ["RMID"]) => ContentKind.Midi,
            _ when text.StartsWith("PK\x03\x04", StringComparison.Ordinal) || text.StartsWith("PK\x05\x06", StringComparison.Ordinal) => ContentKind.Zip,
            _ when head is [0xD0, 0xCF, 0x11, 0xE0, 0xA1, 0xB1, 0x1A, 0xE1, ..] => ContentKind.CompoundFile,
            _ when head is [0x06, 0x0E, 0x2B, 0x34, 0x02, 0x05, 0x01, 0x01, 0x0D, 0x01, 0x02, 0x01, 0x01, ..] => ContentKind.Mxf,
            _ when text.StartsWith("ID3", StringComparison.Ordinal) || head is [0xFF, >= 0xE2 and not 0xFF, ..] => ContentKind.Mp3,
            _ when text.Length > 11 && text[4..8] == "ftyp" => ContentKind.Picture,
            // What we keep in the metadata of an OTIO document is a session document too.
            _ when LooksLike(text, "\"OTIO_SCHEMA\"") => ContentKind.Otio,
            _ when LooksLikeSession(text) => ContentKind.OpenSession,
            _ when MarkerListReader.IsHead(TextGuess.Decode(head).Split('\n')[0]) => ContentKind.MarkerList,
            _ => ContentKind.Unknown,
        };
    }

    private static bool Form(string text, string[] forms, string[] types) =>
        text.Length >= 12 && forms.Contains(text[..4]) && types.Contains(text[8..12]);

    private static bool LooksLikeSession(string text) => LooksLike(text, "\"lyrotransSession\"");

    private static bool LooksLike(string text, string key)
    {
        var body = text.TrimStart('\u00EF', '\u00BB', '\u00BF', ' ', '\t', '\r', '\n');
        return body.StartsWith('{') && body.Contains(key, StringComparison.Ordinal);
    }
}
