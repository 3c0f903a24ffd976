using System.Globalization;

namespace Lyrotrans.Core.Time;

/// <summary>
/// Bar, beat (from 1) and the rest of the beat in ticks of which <see cref="TicksPerQuarter"/> make a quarter. The tick is
/// exact, so nothing is lost until it is shown.
/// </summary>
public readonly record struct MusicalPosition(long Bar, int Beat, Rational Tick)
{
    /// <summary>Ticks in a quarter note wherever a musical position is shown or typed.</summary>
    public const int TicksPerQuarter = 960;

    /// <summary>Reads <c>bar.beat.tick</c>; beat and tick may be left out. A tick may be a ratio or a decimal. <c>|</c> between them is read too.</summary>
    public static bool TryParse(string? text, out MusicalPosition value)
    {
        value = default;
        // Lists of before, and of others, have bars for dots. A tick may have a point of its own.
        var plain = (text ?? string.Empty).Replace('−', '-');
        var parts = plain.Contains('|', StringComparison.Ordinal) ? plain.Split('|') : plain.Split('.', 3);
        if (parts.Length > 3 || !long.TryParse(parts[0].Trim(), NumberStyles.AllowLeadingSign, CultureInfo.InvariantCulture, out var bar))
        {
            return false;
        }

        var beat = 1;
        if (parts.Length > 1 && (!int.TryParse(parts[1].Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out beat) || beat < 1))
        {
            return false;
        }

        var tick = Rational.Zero;
        if (parts.Length > 2 && (!Rational.TryParse(parts[2].Trim(), out tick) || tick.Sign < 0))
        {
            return false;
        }

        value = new MusicalPosition(bar, beat, tick);
        return true;
    }

    /// <summary>With the tick rounded for reading.</summary>
    public override string ToString() => string.Create(CultureInfo.InvariantCulture, $"{Bar}.{Beat}.{Tick.RoundToEven()}");
}
