using System.Globalization;
using System.Numerics;

namespace Lyrotrans.Core.Time;

/// <summary>
/// An exact ratio of two integers, always in lowest terms with a positive denominator.
/// The default value is zero. All arithmetic is exact; rounding happens only in <see cref="RoundToEven"/>.
/// </summary>
public readonly struct Rational : IEquatable<Rational>, IComparable<Rational>
{
    private readonly BigInteger _numerator;
    private readonly BigInteger _denominatorLessOne;

    /// <exception cref="DivideByZeroException">The denominator is zero.</exception>
    public Rational(BigInteger numerator, BigInteger denominator)
    {
        if (denominator.IsZero)
        {
            throw new DivideByZeroException("A ratio needs a denominator other than zero.");
        }

        if (denominator.IsOne)
        {
            _numerator = numerator;
            _denominatorLessOne = BigInteger.Zero;
            return;
        }

        var divisor = BigInteger.GreatestCommonDivisor(numerator, denominator) * denominator.Sign;
        _numerator = numerator / divisor;
        _denominatorLessOne = (denominator / divisor) - 1;
    }

    /// <summary>0, which is the default.</summary>
    public static Rational Zero => default;

    /// <summary>1.</summary>
    public static Rational One => new(1, 1);

    /// <summary>Of the fraction in lowest terms; it has the sign.</summary>
    public BigInteger Numerator => _numerator;

    /// <summary>Of the fraction in lowest terms; at least 1.</summary>
    public BigInteger Denominator => _denominatorLessOne + 1;

    /// <summary>−1, 0 or 1.</summary>
    public int Sign => _numerator.Sign;

    /// <summary>Whether it is a whole number.</summary>
    public bool IsWhole => _denominatorLessOne.IsZero;

    public static implicit operator Rational(long value) => new(value, 1);

    public static Rational operator +(Rational a, Rational b) => a.IsWhole && b.IsWhole ? new(a.Numerator + b.Numerator, BigInteger.One) :
        new((a.Numerator * b.Denominator) + (b.Numerator * a.Denominator), a.Denominator * b.Denominator);

    public static Rational operator -(Rational a, Rational b) => a.IsWhole && b.IsWhole ? new(a.Numerator - b.Numerator, BigInteger.One) :
        new((a.Numerator * b.Denominator) - (b.Numerator * a.Denominator), a.Denominator * b.Denominator);

    public static Rational operator -(Rational a) => new(-a.Numerator, a.Denominator);

    public static Rational operator *(Rational a, Rational b) => a.IsWhole && b.IsWhole ? new(a.Numerator * b.Numerator, BigInteger.One) : new(a.Numerator * b.Numerator, a.Denominator * b.Denominator);

    /// <exception cref="DivideByZeroException">The divisor is zero.</exception>
    public static Rational operator /(Rational a, Rational b) => new(a.Numerator * b.Denominator, a.Denominator * b.Numerator);

    public static bool operator ==(Rational a, Rational b) => a.Equals(b);

    public static bool operator !=(Rational a, Rational b) => !a.Equals(b);

    public static bool operator <(Rational a, Rational b) => a.CompareTo(b) < 0;

    public static bool operator >(Rational a, Rational b) => a.CompareTo(b) > 0;

    public static bool operator <=(Rational a, Rational b) => a.CompareTo(b) <= 0;

    public static bool operator >=(Rational a, Rational b) => a.CompareTo(b) >= 0;

    /// <summary>The multiple of 1/<paramref name="resolution"/> nearest to a finite double.</summary>
    /// <exception cref="OverflowException">The value is not finite.</exception>
    public static Rational FromDouble(double value, long resolution) =>
        new(new BigInteger(Math.Round(value * resolution, MidpointRounding.ToEven)), resolution);

    /// <summary>Reads <c>n</c>, <c>n/d</c> or a decimal such as <c>92.5</c>.</summary>
    public static bool TryParse(string? text, out Rational value)
    {
        value = default;
        if (string.IsNullOrWhiteSpace(text) || text.Length > 200)
        {
            return false;
        }

        var slash = text.IndexOf('/', StringComparison.Ordinal);
        if (slash >= 0)
        {
            if (!TryInteger(text.AsSpan(0, slash), out var n) || !TryInteger(text.AsSpan(slash + 1), out var d) || d.IsZero)
            {
                return false;
            }

            value = new Rational(n, d);
            return true;
        }

        var point = text.IndexOf('.', StringComparison.Ordinal);
        var digits = point < 0 ? text : text.Remove(point, 1);
        if (!TryInteger(digits, out var whole))
        {
            return false;
        }

        value = new Rational(whole, BigInteger.Pow(10, point < 0 ? 0 : text.Length - point - 1));
        return true;
    }

    /// <summary>The greatest whole number that is not greater than this.</summary>
    public BigInteger Floor()
    {
        var quotient = BigInteger.DivRem(Numerator, Denominator, out var remainder);
        return remainder.Sign < 0 ? quotient - 1 : quotient;
    }

    /// <summary>The least whole number that is not less than this.</summary>
    public BigInteger Ceiling() => -(-this).Floor();

    /// <summary>The nearest whole number; a tie goes to the even one.</summary>
    /// <exception cref="OverflowException">It does not fit in 64 bits.</exception>
    public long RoundToEven()
    {
        if (IsWhole)
        {
            return (long)Numerator;
        }

        var floor = Floor();
        var twice = (Numerator - (floor * Denominator)) * 2;
        var order = twice.CompareTo(Denominator);
        var up = order > 0 || (order == 0 && !floor.IsEven);
        return (long)(up ? floor + 1 : floor);
    }

    /// <summary>This ratio where both of its parts are within a bound; else the last convergent of its continued fraction that is, off by less than 1 / denominator / bound.</summary>
    /// <param name="most">For the numerator's size and the denominator; what is larger than it becomes it.</param>
    public Rational Within(long most)
    {
        var (n, d) = (BigInteger.Abs(Numerator), Denominator);
        if (n <= most && d <= most)
        {
            return this;
        }

        var (p0, q0, p1, q1) = (BigInteger.Zero, BigInteger.One, BigInteger.One, BigInteger.Zero);
        while (!d.IsZero)
        {
            var whole = BigInteger.DivRem(n, d, out var rest);
            var (p, q) = ((whole * p1) + p0, (whole * q1) + q0);
            if (p > most || q > most)
            {
                break;
            }

            (p0, q0, p1, q1, n, d) = (p1, q1, p, q, d, rest);
        }

        return q1.IsZero ? Sign * most : new Rational(Sign * p1, q1);
    }

    /// <summary>The nearest double, for display and for signal arithmetic only.</summary>
    public double ToDouble()
    {
        if (BigInteger.Abs(Numerator) < (BigInteger.One << 53) && Denominator < (BigInteger.One << 53))
        {
            return (double)Numerator / (double)Denominator;
        }

        var whole = Floor();
        var rest = (((Numerator - (whole * Denominator)) << 60) / Denominator);
        return (double)whole + ((double)rest / (1L << 60));
    }

    public bool Equals(Rational other) => _numerator == other._numerator && _denominatorLessOne == other._denominatorLessOne;

    public override bool Equals(object? obj) => obj is Rational other && Equals(other);

    public override int GetHashCode() => HashCode.Combine(_numerator, _denominatorLessOne);

    public int CompareTo(Rational other) => IsWhole && other.IsWhole ? Numerator.CompareTo(other.Numerator) : (Numerator * other.Denominator).CompareTo(other.Numerator * Denominator);

    /// <summary><c>n</c> where it is whole, else <c>n/d</c>.</summary>
    public override string ToString() => Denominator.IsOne
        ? Numerator.ToString(CultureInfo.InvariantCulture)
        : string.Create(CultureInfo.InvariantCulture, $"{Numerator}/{Denominator}");

    private static bool TryInteger(ReadOnlySpan<char> text, out BigInteger value) =>
        BigInteger.TryParse(text, NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out value);
}
