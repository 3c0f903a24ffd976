using System.Text;
using Lyrotrans.Formats.Binary;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Recognition;

/// <summary>Recognises a file by its content, never by its name.</summary>
public static class ContentSniffer
{
    /// <summary>What a file is, by its first bytes and not by its name.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    public static ContentKind Recognise(Stream stream)
    {
        stream.Position = 0;
        Span<byte> head = stackalloc byte[512];
        var count = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        stream.Position = 0;

        // Sessions first: a file that says one may begin with a whole sound file.
        return SessionFormats.Recognise(head[..count], stream) is null ? OfHead(head[..count]) : ContentKind.Session;
    }

    private static ContentKind OfHead(ReadOnlySpan<byte> head)
    {
        if (head.Length == 0)
        {
            return ContentKind.Empty;
        }

        var text = Encoding.Latin1.GetString(head);
        return text switch
        {
            _ when LinearSound.IsWave(head) => ContentKind.Wave,
            _ when LinearSound.IsAiff(head) => ContentKind.Aiff,
            _ when text.StartsWith("fLaC", StringComparison.Ordinal) => ContentKind.Flac,
            _ when text.StartsWith("OggS", StringComparison.Ordinal) => ContentKind.Ogg,
            _ when text.StartsWith("MThd", StringComparison.Ordinal) || (text.Length >= 12 && text[..4] == "RIFF" && text[8..12] == "RMID") => ContentKind.Midi,
            _ when text.StartsWith("PK\x03\x04", StringComparison.Ordinal) || text.StartsWith("PK\x05\x06", StringComparison.Ordinal) => ContentKind.Zip,
            _ when head is [0x06, 0x0E, 0x2B, 0x34, 0x02, 0x05, 0x01, 0x01, 0x0D, 0x01, 0x02, 0x01, 0x01, ..] => ContentKind.Container,
            _ when text.StartsWith("ID3", StringComparison.Ordinal) || head is [0xFF, >= 0xE2 and not 0xFF, ..] => ContentKind.Mp3,
            _ when text.Length > 11 && text[4..8] is "ftyp" or "moov" or "mdat" or "wide" => ContentKind.Picture,
            _ when MarkerListReader.IsHead(TextGuess.Decode(head).Split('\n')[0]) => ContentKind.MarkerList,
            _ => ContentKind.Unknown,
        };
    }

    /// <summary>The format of a file that says a session; null for all else.</summary>
    public static ISessionFormat? FormatOf(Stream stream)
    {
        stream.Position = 0;
        Span<byte> head = stackalloc byte[512];
        var count = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        stream.Position = 0;
        return SessionFormats.Recognise(head[..count], stream);
    }
}
