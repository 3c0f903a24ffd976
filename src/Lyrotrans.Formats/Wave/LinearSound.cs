using System.Text;

namespace Lyrotrans.Formats.Wave;

/// <summary>Files of linear PCM, told by their first bytes: WAVE with its large forms, and AIFF.</summary>
/// <remarks>docs/formats/sound.md, section 1.</remarks>
public static class LinearSound
{
    private const int HeadBytes = 12;
    private static readonly string[] s_wave = ["RIFF", "RF64", "BW64"];

    /// <summary>Whether the first bytes of a file are those of WAVE.</summary>
    public static bool IsWave(ReadOnlySpan<byte> head) => head.Length >= HeadBytes && s_wave.Contains(Four(head)) && head[8..HeadBytes].SequenceEqual("WAVE"u8);

    /// <summary>Whether the first bytes of a file are those of AIFF.</summary>
    public static bool IsAiff(ReadOnlySpan<byte> head) =>
        head.Length >= HeadBytes && head.StartsWith("FORM"u8) && (head[8..HeadBytes].SequenceEqual("AIFF"u8) || head[8..HeadBytes].SequenceEqual("AIFC"u8));

    /// <summary>Reads the header of a file that begins as one of them; null where it begins otherwise, as samples alone do.</summary>
    /// <param name="stream">Can seek; read from its beginning.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="Core.Errors.BadInputException">It begins so, and is none or cannot be read.</exception>
    public static SoundHeader? Read(Stream stream, string name)
    {
        stream.Position = 0;
        Span<byte> head = stackalloc byte[4];
        var read = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
        stream.Position = 0;
        return read < head.Length ? null : s_wave.Contains(Four(head)) ? WaveReader.Read(stream, name) : Four(head) == "FORM" ? AiffReader.Read(stream, name) : null;
    }

    private static string Four(ReadOnlySpan<byte> head) => Encoding.Latin1.GetString(head[..4]);
}
