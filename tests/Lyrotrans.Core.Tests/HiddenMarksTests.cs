using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Tests;

/// <summary>Marks that are not seen are shown.</summary>
public class HiddenMarksTests
{
    [Theory]
    [InlineData("bell\u202Egnp.wav", "bell[U+202E]gnp.wav")]
    [InlineData("be\u200Bll", "be[U+200B]ll")]
    [InlineData("\uFEFFbell\u2066x\u2069", "[U+FEFF]bell[U+2066]x[U+2069]")]
    [InlineData("a\u001b[2Jb\u0085c\u2028d", "a[U+001B][2Jb[U+0085]c[U+2028]d")]
    [InlineData("\U000E0041tag", "[U+E0041]tag")]
    [InlineData("a\u3164b", "a[U+3164]b")]
    [InlineData("two\nlines\tand a tab\r\n", "two\nlines\tand a tab\r\n")]
    [InlineData("Glöckchen \U0001F514 עברית é́", "Glöckchen \U0001F514 עברית é́")]
    public void They_are_shown_and_all_else_is_as_it_is(string text, string shown) => Assert.Equal(shown, HiddenMarks.Shown(text));

    [Fact]
    public void Half_a_character_is_shown_as_none() => Assert.Equal("lone \uFFFD.", HiddenMarks.Shown("lone \ud800."));

    [Fact]
    public void No_delivered_name_has_one()
    {
        for (var value = 0; value <= 0x10FFFF; value++)
        {
            if (System.Text.Rune.TryCreate(value, out var rune) && HiddenMarks.Is(rune))
            {
                Assert.DoesNotContain(LegalName.From($"a{rune}b").EnumerateRunes(), HiddenMarks.Is);
            }
        }
    }
}
