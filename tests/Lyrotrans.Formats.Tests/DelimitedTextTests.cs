using CsCheck;
using Lyrotrans.Formats.MarkerList;

namespace Lyrotrans.Formats.Tests;

/// <summary>Delimited text: what is written is read, and no cell is a formula.</summary>
public class DelimitedTextTests
{
    private static readonly string[] s_heads = ["", "'", "''", "=", "+", "-", "@", "\t", "'=", "''-", "-5", "+0.5", "\""];

    private static readonly Gen<string> s_cells = Gen.OneOf(Gen.String, Gen.Select(Gen.Int[0, s_heads.Length - 1].Select(i => s_heads[i]), Gen.String, (head, tail) => head + tail));

    [Fact]
    public void Cells_come_back_as_they_were() => s_cells.Where(c => !c.Contains('\r', StringComparison.Ordinal)).Array[1, 6].Sample(cells =>
    {
        // The first line says what parts the cells.
        var rows = DelimitedText.Read(DelimitedText.Line("a", "b", "c", "d", "e", "f", "g", "h") + DelimitedText.Line([.. cells, "end"])).ToList();
        Assert.Equal([.. cells, "end"], rows[1].Cells);
    });

    [Theory]
    [InlineData("=HYPERLINK(1)", "'=HYPERLINK(1)")]
    [InlineData("+A1", "'+A1")]
    [InlineData("-A1", "'-A1")]
    [InlineData("@sum", "'@sum")]
    [InlineData("'=1", "''=1")]
    [InlineData("-12.5", "-12.5")]
    [InlineData("+3", "+3")]
    [InlineData("'tis", "'tis")]
    [InlineData("a=b", "a=b")]
    public void What_would_be_a_formula_has_an_apostrophe(string cell, string written) => Assert.Equal(written + "\r\n", DelimitedText.Line(cell));
}
