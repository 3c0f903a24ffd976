using System.Text;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Omf;

/// <summary>How the texts of a file are coded, which nothing in it says: ASCII, UTF-8, Latin-1 or Mac Roman, guessed from all of them together.</summary>
/// <remarks>docs/formats/omf.md, section 3.</remarks>
internal sealed class OmfText
{
    private static readonly UTF8Encoding s_strict = new(false, true);
    private static readonly Encoding s_macRoman = CodePagesEncodingProvider.Instance.GetEncoding(10000)!;
    private readonly Encoding _encoding;

    private OmfText(Encoding encoding, Finding? finding)
    {
        _encoding = encoding;
        Finding = finding;
    }

    /// <summary>What was guessed and what else it could have been; null where there was no doubt.</summary>
    public Finding? Finding { get; }

    /// <param name="texts">All that the file says, as bytes.</param>
    public static OmfText Of(IEnumerable<byte[]> texts)
    {
        var beyond = texts.Select(t => t.AsSpan(0, Length(t)).ToArray()).Where(t => t.Any(b => b > 0x7F)).ToList();
        if (beyond.Count == 0 || beyond.TrueForAll(IsUtf8))
        {
            return new OmfText(Encoding.UTF8, null);
        }

        // Latin-1 has its letters from C0 on and no signs at all before A0; Mac Roman has its letters from 80 to 9F.
        var (mac, latin) = (beyond.Sum(t => t.Count(b => b is >= 0x80 and < 0xA0)), beyond.Sum(t => t.Count(b => b >= 0xC0)));
        var (taken, other) = mac > latin ? (s_macRoman, Encoding.Latin1) : (Encoding.Latin1, s_macRoman);
        var example = beyond[0];
        return new OmfText(taken, new Finding(OmfCodes.TextGuessed, string.Empty, $"Nothing says how its names are coded; they were read as {Word(taken)} (\"{Printable(taken.GetString(example))}\"). As {Word(other)} it would be \"{Printable(other.GetString(example))}\"."));
    }

    public string Decode(ReadOnlySpan<byte> bytes) => _encoding.GetString(bytes[..Length(bytes)]);

    private static string Word(Encoding encoding) => encoding == s_macRoman ? "Mac Roman" : "Latin-1";

    private static string Printable(string text) => string.Concat(text.Select(c => char.IsControl(c) ? '?' : c));

    private static bool IsUtf8(byte[] text)
    {
        try
        {
            s_strict.GetCharCount(text);
            return true;
        }
        catch (DecoderFallbackException)
        {
            return false;
        }
    }

    private static int Length(ReadOnlySpan<byte> bytes) => bytes.IndexOf((byte)0) is >= 0 and var end ? end : bytes.Length;
}
