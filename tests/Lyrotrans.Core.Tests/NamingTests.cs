using CsCheck;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Tests;

public class NamingTests
{
    [Theory]
    [InlineData("Swell: in/out?", "Swell-_in-out-")]
    [InlineData("Horn close", "Horn_close")]
    [InlineData("con", "_con")]
    [InlineData("LPT1.wav", "_LPT1.wav")]
    [InlineData("...", "unnamed")]
    [InlineData("Zoë 星", "Zoë_星")]
    [InlineData("a. ", "a")]
    public void Names_become_legal(string name, string legal) => Assert.Equal(legal, LegalName.From(name));

    [Fact]
    public void Any_name_becomes_one_that_no_system_refuses() => Gen.String[0, 300].Sample(name => !LegalName.IsRefusedSomewhere(LegalName.From(name)));

    [Fact]
    public void Names_become_unique_without_regard_to_case()
    {
        var names = LegalName.Unique(["Chimes", "chimes", "Chimes_2", "CHIMES"]);
        Assert.Equal(4, names.Distinct(StringComparer.OrdinalIgnoreCase).Count());
        Assert.Equal("Chimes", names[0]);
    }

    [Theory]
    [InlineData("Caf\u00e9 M\u00fchle", "Cafe\u0301 Mu\u0308hle")]
    [InlineData("CAF\u00c9", "cafe\u0301")]
    [InlineData("\ud55c", "\u1112\u1161\u11ab")]
    [InlineData("a\u0323\u0302", "a\u0302\u0323")]
    public void Names_are_one_however_their_marks_are_put_on(string one, string other)
    {
        Assert.Equal(one, other, SameName.Comparer);
        Assert.Equal(SameName.Comparer.GetHashCode(one), SameName.Comparer.GetHashCode(other));
        Assert.Equal(LegalName.From(one), LegalName.From(other), ignoreCase: true);
        Assert.Equal([one, $"{other}_2"], LegalName.Unique([one, other]));
    }

    [Fact]
    public void A_name_of_a_hundred_thousand_marks_the_wrong_way_round_is_put_in_order()
    {
        var marks = string.Concat(Enumerable.Repeat("\u0301\u0323", 50_000));
        Assert.Equal("\u1ea1" + new string('\u0323', 49_999) + new string('\u0301', 50_000), Composed.Of("a" + marks));
    }

    [Fact]
    public void Names_with_other_letters_are_two() => Assert.NotEqual("Cafe", "Caf\u00e9", SameName.Comparer);

    [Fact]
    public void Patterns_are_filled_and_bad_ones_explained()
    {
        Assert.Equal("03_Cello (Suite)", NamePattern.Fill("{order}_{track} ({session})", 3, 2, "Cello", "Suite"));
        Assert.Null(NamePattern.Problem("{order}_{track}"));
        Assert.Contains("{tempo}", NamePattern.Problem("{tempo}_{track}"));
        Assert.Equal("A name pattern has 1 to 100 characters.", NamePattern.Problem(" "));
    }

    [Fact]
    public void Numbers_are_grouped_by_thin_spaces_with_a_true_minus()
    {
        Assert.Equal("1\u202f104\u202f336", Digits.Grouped(1_104_336));
        Assert.Equal("−7", Digits.Grouped(-7));
        Assert.Equal("3.3 MB", Digits.Bytes(3_312_000));
    }
}
