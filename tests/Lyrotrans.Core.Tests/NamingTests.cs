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
        Assert.Equal("03_Cello (Suite)", NamePattern.Fill("{order}_{track} ({session})", new NameFields(3, 2, "Cello", "Suite")));
        Assert.Null(NamePattern.Problem("{order}_{track}"));
        Assert.Contains("{mood}", NamePattern.Problem("{mood}_{track}"));
        Assert.Equal("A name pattern has 1 to 100 characters.", NamePattern.Problem(" "));
    }

    [Theory]
    [InlineData("{order}_{track}_{tempo}bpm_{key}", "07_Cello_bpm")]
    [InlineData("{tempo} - {track} {version}.{date}", "Cello.2026-03-21")]
    [InlineData("{take}_{group}-{track}", "Strings-Cello")]
    [InlineData("{track} ({treatment}, {rate} {depth})", "Cello (dry, 48k 24bit)")]
    [InlineData("{version}{tempo}", "")]
    public void A_field_that_says_nothing_takes_its_separator_along(string pattern, string name) =>
        Assert.Equal(name, NamePattern.Fill(pattern, new NameFields(7, 2, "Cello", "Suite") { Group = "Strings", Treatment = "dry", Rate = "48k", Depth = "24bit", Date = "2026-03-21" }));

    [Fact]
    public void What_a_field_stands_for_is_never_read_as_a_field() =>
        Assert.Equal("{order} {track}", NamePattern.Fill("{track} {session}", new NameFields(1, 2, "{order}", "{track}")));

    [Theory]
    [InlineData("03_Cello", "Cello")]
    [InlineData("2. Horn", "Horn")]
    [InlineData("3 - Horn", "Horn")]
    [InlineData("12 string", "12 string")]
    [InlineData("808", "808")]
    [InlineData("Cello_20260321_1015", "Cello")]
    [InlineData("2026-03-21 Cello", "Cello")]
    [InlineData("Cello 20261399", "Cello 20261399")]
    [InlineData("Cello take 3", "Cello")]
    [InlineData("Cello_03", "Cello")]
    [InlineData("Cello-T07", "Cello")]
    [InlineData("Horn 2", "Horn 2")]
    [InlineData("Cello (2)", "Cello")]
    [InlineData("Cello copy 4", "Cello")]
    [InlineData("Cello (copy)", "Cello")]
    [InlineData("Photocopy", "Photocopy")]
    [InlineData("Cello_bounced_03 copy", "Cello")]
    [InlineData("Fingerprint", "Fingerprint")]
    [InlineData("Hall  left__", "Hall left")]
    [InlineData("_20260321_", "20260321")]
    [InlineData("01_print", "print")]
    [InlineData("Zoë 星_02", "Zoë 星")]
    public void Leftovers_come_off_and_what_is_a_name_stays(string name, string clean) =>
        Assert.Equal([clean], NameCleaner.Clean([name], new NameCleaning(true, true, true, true, true, true)));

    [Fact]
    public void What_tells_two_names_apart_stays_on_both()
    {
        var all = new NameCleaning(true, true, true, true, true, true);
        Assert.Equal(["Tom_01", "Tom_02", "Snare"], NameCleaner.Clean(["Tom_01", "Tom_02", "Snare_01"], all));
        Assert.Equal(["Tom_01", "Tom"], NameCleaner.Clean(["Tom_01", "Tom"], all));
        Assert.Equal(["Tom", "Tom"], NameCleaner.Clean(["Tom_01", "Tom_01"], all));
        Assert.Equal(["a  b"], NameCleaner.Clean(["a  b"], new NameCleaning()));
    }

    [Fact]
    public void Cleaning_makes_no_two_names_one_no_name_empty_and_twice_is_as_once()
    {
        string[] parts = ["Cello", "_", " ", "03", "copy", "(2)", "take 2", "_print", "20260321", "x", "__", "T01", ".", "星"];
        Gen.Int[0, parts.Length - 1].Select(i => parts[i]).Array[1, 5].Select(p => string.Concat(p)).Array[1, 6].Sample(names =>
        {
            var clean = NameCleaner.Clean(names, new NameCleaning(true, true, true, true, true, true));
            Assert.Equal(names.Distinct(SameName.Comparer).Count(), clean.Distinct(SameName.Comparer).Count());
            Assert.Equal(clean, NameCleaner.Clean(clean, new NameCleaning(true, true, true, true, true, true)));
            Assert.Equal(names.Select(n => n.Any(char.IsLetterOrDigit)), clean.Select(n => n.Any(char.IsLetterOrDigit)));
        });
    }

    [Fact]
    public void Names_sort_by_the_numbers_that_they_say()
    {
        Assert.Equal(["Tom 1", "tom 2", "Tom 02b", "Tom 10", "Tom 10 b", "Violin"], new[] { "Tom 10 b", "Violin", "Tom 10", "Tom 02b", "tom 2", "Tom 1" }.Order(NaturalOrder.Comparer));
        Gen.Select(Gen.String[0, 12], Gen.String[0, 12], Gen.String[0, 12]).Sample((a, b, c) =>
        {
            var order = NaturalOrder.Comparer;
            Assert.Equal(Math.Sign(order.Compare(a, b)), -Math.Sign(order.Compare(b, a)));
            Assert.Equal(a == b, order.Compare(a, b) == 0);
            Assert.False(order.Compare(a, b) <= 0 && order.Compare(b, c) <= 0 && order.Compare(a, c) > 0);
        });
    }

    [Fact]
    public void Numbers_are_grouped_by_thin_spaces_with_a_true_minus()
    {
        Assert.Equal("1\u202f104\u202f336", Digits.Grouped(1_104_336));
        Assert.Equal("−7", Digits.Grouped(-7));
        Assert.Equal("3.3 MB", Digits.Bytes(3_312_000));
    }
}
