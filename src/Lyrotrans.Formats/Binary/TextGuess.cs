using System.Text;

namespace Lyrotrans.Formats.Binary;

/// <summary>Text of which nobody says how it is coded: UTF-8 where it is valid, Latin-1 where it is not; up to the first zero.</summary>
public static class TextGuess
{
    private static readonly UTF8Encoding s_strict = new(false, true);

    /// <summary>The text of bytes whose coding is not said.</summary>
    public static string Decode(ReadOnlySpan<byte> bytes)
    {
        var end = bytes.IndexOf((byte)0);
        bytes = end < 0 ? bytes : bytes[..end];
        try
        {
            return s_strict.GetString(bytes);
        }
        catch (DecoderFallbackException)
        {
            return Encoding.Latin1.GetString(bytes);
        }
    }
}
