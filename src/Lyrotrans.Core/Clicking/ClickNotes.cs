using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>What the notes of clicks are.</summary>
public static class ClickNotes
{
    /// <summary>Its length in quarters.</summary>
    public static Rational Quarters(this ClickNote note) => note switch
    {
        ClickNote.Eighth => new Rational(1, 2),
        ClickNote.Half => 2,
        ClickNote.DottedQuarter => new Rational(3, 2),
        _ => 1,
    };

    /// <summary>The meter of a bar of so many clicks.</summary>
    public static MeterChange Meter(this ClickNote note, long bar, int clicks) => note switch
    {
        ClickNote.Eighth => new MeterChange(bar, clicks, 8),
        ClickNote.Half => new MeterChange(bar, clicks, 2),
        ClickNote.DottedQuarter => new MeterChange(bar, 3 * clicks, 8),
        _ => new MeterChange(bar, clicks, 4),
    };

    /// <summary>In words.</summary>
    public static string Words(this ClickNote note) => note switch
    {
        ClickNote.Eighth => "eighth",
        ClickNote.Half => "half",
        ClickNote.DottedQuarter => "dotted quarter",
        _ => "quarter",
    };
}
