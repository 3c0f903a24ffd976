using System.Numerics;
using CsCheck;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

public class RationalTests
{
    public static readonly Gen<Rational> Ratios = Gen.Select(Gen.Long[-1_000_000_000, 1_000_000_000], Gen.Long[1, 1_000_000], (n, d) => new Rational(n, d));

    [Fact]
    public void Sums_and_products_undo_exactly() => Gen.Select(Ratios, Ratios).Sample((a, b) =>
        a + b - b == a && (b.Sign == 0 || a * b / b == a) && a - a == Rational.Zero);

    [Fact]
    public void Order_is_that_of_the_values() => Gen.Select(Ratios, Ratios).Sample((a, b) =>
        a < b == (a - b).Sign < 0 && a.CompareTo(b) == -b.CompareTo(a));

    [Fact]
    public void Text_reads_back() => Ratios.Sample(a => Rational.TryParse(a.ToString(), out var back) && back == a);

    [Theory]
    [InlineData(5, 2, 2)]
    [InlineData(7, 2, 4)]
    [InlineData(-5, 2, -2)]
    [InlineData(-7, 2, -4)]
    [InlineData(-9, 4, -2)]
    [InlineData(11, 4, 3)]
    public void Rounds_to_nearest_and_ties_to_even(long n, long d, long expected) => Assert.Equal(expected, new Rational(n, d).RoundToEven());

    [Fact]
    public void Floor_and_ceiling_enclose() => Ratios.Sample(a =>
        new Rational(a.Floor(), 1) <= a && a < new Rational(a.Floor() + 1, 1) && a.Ceiling() - a.Floor() == (a.Denominator.IsOne ? BigInteger.Zero : BigInteger.One));

    [Theory]
    [InlineData("92.5", 185, 2)]
    [InlineData("-3/6", -1, 2)]
    [InlineData("7", 7, 1)]
    public void Reads_decimals_and_ratios(string text, long n, long d)
    {
        Assert.True(Rational.TryParse(text, out var value));
        Assert.Equal(new Rational(n, d), value);
    }

    [Theory]
    [InlineData("")]
    [InlineData("1/0")]
    [InlineData("a")]
    [InlineData("1/2/3")]
    [InlineData(null)]
    public void Refuses_what_is_no_ratio(string? text) => Assert.False(Rational.TryParse(text, out _));

    [Fact]
    public void Default_is_zero_and_a_zero_denominator_is_refused()
    {
        Assert.Equal(new Rational(0, 5), default);
        Assert.Throws<DivideByZeroException>(() => new Rational(1, 0));
    }

    [Fact]
    public void Within_a_bound_it_is_itself_or_the_nearest_that_fits() => Gen.Select(Gen.Int[-2_000_000_000, 2_000_000_000], Gen.Int[1, 2_000_000_000], Gen.Int[1000, 1_000_000]).Sample((n, d, most) =>
    {
        var value = new Rational(n, d);
        var near = value.Within(most);
        var fits = System.Numerics.BigInteger.Abs(near.Numerator) <= most && near.Denominator <= most;
        var itself = System.Numerics.BigInteger.Abs(value.Numerator) <= most && value.Denominator <= most;
        var off = near - value;
        var size = value.Sign < 0 ? -value : value;
        return fits && (itself ? near == value : size > most ? near == value.Sign * (long)most : off <= new Rational(1, near.Denominator) && -off <= new Rational(1, near.Denominator));
    });
}
