using System.Numerics;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>
/// The places that are whole at two rates: every <see cref="From"/> samples of the one lie on every <see cref="To"/> samples of the other. From a sample between two of
/// them a grid of its own runs, by its phase: so the sample lies on a whole place of the other rate too.
/// </summary>
public readonly record struct RateGrid
{
    // Where only longer spans are whole at both rates, the ratio is the nearest of shorter ones: off by less than 2⁻³⁸, a sample in three days.
    private const int LongestUnit = 1 << 20;
    private readonly long _moreFrom;
    private readonly long _moreTo;

    public RateGrid(SampleRate from, SampleRate to)
    {
        var ratio = (to.PerSecond / from.PerSecond).Within(LongestUnit);
        (_moreFrom, _moreTo) = ((long)ratio.Denominator - 1, (long)ratio.Numerator - 1);
    }

    /// <summary>Samples of the first rate from one place to the next; 1 or more.</summary>
    public long From => _moreFrom + 1;

    /// <summary>Samples of the second rate in as much time; 1 or more.</summary>
    public long To => _moreTo + 1;

    /// <summary>The grid that a sample of the first rate lies on, 0 … <see cref="From"/> − 1: the first of its samples that is not below 0.</summary>
    public long PhaseOf(long sample) => sample - (Units(sample) * From);

    /// <summary>The sample of the second rate that a sample of the first lies on, counted from its phase.</summary>
    public long PlaceOf(long sample) => Units(sample) * To;

    /// <summary>The place of a sample of the first rate, in samples of the second, exact.</summary>
    public Rational Exact(long sample) => Exact(new Rational(sample, 1));

    /// <summary>The place of a place of the first rate, in samples of the second, exact.</summary>
    public Rational Exact(Rational sample) => sample * new Rational(To, From);

    /// <summary>
    /// The grid on which a sample of the second rate lies at a place of the first, and that sample counted from the grid's phase. A place that is no whole number of parts of <see cref="To"/> goes to
    /// the nearest part.
    /// </summary>
    public (long Phase, long Place) Anchor(long sample, Rational part)
    {
        var parts = (part * To).RoundToEven();

        // So many samples of the second rate later the first has a sample: parts + later × From is a multiple of To.
        var later = To == 1 ? 0 : (long)((new BigInteger(-parts) * Inverse(From, To) % To + To) % To);
        var whole = sample + (long)((parts + (new BigInteger(later) * From)) / To);
        return (PhaseOf(whole), PlaceOf(whole) - later);
    }

    // Of two numbers without a common divisor; by Euclid.
    private static BigInteger Inverse(long number, long modulus)
    {
        var (a, b, x, y) = (new BigInteger(number % modulus), new BigInteger(modulus), BigInteger.One, BigInteger.Zero);
        while (!a.IsZero)
        {
            var quotient = b / a;
            (a, b, x, y) = (b - (quotient * a), a, y - (quotient * x), x);
        }

        return (y % modulus + modulus) % modulus;
    }

    // Rounded down, below 0 too.
    private long Units(long sample) => (sample / From) - (sample % From < 0 ? 1 : 0);
}
