using System.Globalization;

namespace Lyrotrans.Core.Sound;

/// <summary>Amplitude ratios and their levels. Silence is −∞ dB.</summary>
public static class Decibels
{
    /// <summary>0 dB is exactly 1.</summary>
    public static double ToRatio(double decibels) => decibels == 0 ? 1 : Math.Pow(10, decibels / 20);

    /// <summary>The level of an amplitude ratio, in dB; −∞ for 0 and below.</summary>
    public static double FromRatio(double ratio) => ratio <= 0 ? double.NegativeInfinity : 20 * Math.Log10(ratio);

    /// <summary>For people, with a true minus sign: <c>−12.3</c>, or <c>−∞</c>; what rounds to nothing has no sign.</summary>
    public static string Words(double decibels, int digits = 1) => double.IsNegativeInfinity(decibels)
        ? "−∞"
        : (Math.Round(decibels, digits) + 0.0).ToString("F" + digits, CultureInfo.InvariantCulture).Replace('-', '−');
}
