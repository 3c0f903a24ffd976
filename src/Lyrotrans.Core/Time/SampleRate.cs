using System.Globalization;
using Lyrotrans.Core.Naming;

namespace Lyrotrans.Core.Time;

/// <summary>Samples a second, as an exact positive ratio (48000/1, 44100/1, 48000·1000/1001).</summary>
public readonly record struct SampleRate
{
    // Zero for the usual rate, so that the default value is that rate and equal to it.
    private readonly Rational _perSecond;

    /// <exception cref="ArgumentOutOfRangeException">Not above zero, or above ten million a second.</exception>
    public SampleRate(Rational perSecond)
    {
        if (!IsPossible(perSecond))
        {
            throw new ArgumentOutOfRangeException(nameof(perSecond), $"A sample rate of {perSecond} a second is not possible.");
        }

        _perSecond = perSecond == Usual ? Rational.Zero : perSecond;
    }

    private static Rational Usual => 48000;

    /// <summary>Whether a ratio can be one: above zero, and not above ten million a second.</summary>
    public static bool IsPossible(Rational perSecond) => perSecond.Sign > 0 && perSecond <= 10_000_000;

    /// <summary>44 100 samples a second.</summary>
    public static SampleRate Hz44100 => new(44100);

    /// <summary>48 000 samples a second, which is the default.</summary>
    public static SampleRate Hz48000 => new(48000);

    /// <summary>Samples a second; the default value is 48000.</summary>
    public Rational PerSecond => _perSecond.Sign == 0 ? Usual : _perSecond;

    /// <summary>Of whole samples a second.</summary>
    /// <exception cref="ArgumentOutOfRangeException">Not above zero, or above ten million a second.</exception>
    public static SampleRate FromHz(long hz) => new(hz);

    /// <summary>The rate as a file header states it, in whole samples a second.</summary>
    public int HeaderHz => (int)PerSecond.RoundToEven();

    /// <summary>Seconds that a count of samples lasts, exact.</summary>
    public Rational SecondsOf(Rational samples) => samples / PerSecond;

    /// <summary>Samples in a span of seconds, exact and not rounded.</summary>
    public Rational SamplesIn(Rational seconds) => seconds * PerSecond;

    /// <summary>
    /// Maps a position at this rate to the nearest at another; ties go to even. Convert both ends of a span and
    /// subtract, never the length, so that neighbours that touched still touch.
    /// </summary>
    public long Convert(long samples, SampleRate to) =>
        this == to ? samples : (samples * (to.PerSecond / PerSecond)).RoundToEven();

    /// <summary>As people read it: in groups of three where it is whole, else as <see cref="ToString"/> says it exactly.</summary>
    public string Words => PerSecond.Denominator == 1 ? $"{Digits.Grouped((long)PerSecond.Numerator)} Hz" : ToString();

    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{PerSecond} Hz");
}
