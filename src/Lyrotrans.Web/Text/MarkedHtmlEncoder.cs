using System.Text;
using System.Text.Encodings.Web;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Web.Text;

/// <summary>Encodes for HTML as usual, and shows hidden marks: whatever a page says goes through it, so none can be forgotten.</summary>
public sealed unsafe class MarkedHtmlEncoder : HtmlEncoder
{
    private const int Longest = 12;

    public override int MaxOutputCharactersPerInputCharacter => Math.Max(Longest, Default.MaxOutputCharactersPerInputCharacter);

    // What is usual encodes all marks, so it finds and counts them.
    public override int FindFirstCharacterToEncode(char* text, int textLength) => Default.FindFirstCharacterToEncode(text, textLength);

    public override bool WillEncode(int unicodeScalar) => Default.WillEncode(unicodeScalar);

    public override bool TryEncodeUnicodeScalar(int unicodeScalar, char* buffer, int bufferLength, out int numberOfCharactersWritten)
    {
        if (!Rune.TryCreate(unicodeScalar, out var rune) || !HiddenMarks.Is(rune))
        {
            return Default.TryEncodeUnicodeScalar(unicodeScalar, buffer, bufferLength, out numberOfCharactersWritten);
        }

        var shown = HiddenMarks.Shown(rune);
        numberOfCharactersWritten = shown.Length <= bufferLength ? shown.Length : 0;
        return shown.AsSpan().TryCopyTo(new Span<char>(buffer, bufferLength));
    }
}
