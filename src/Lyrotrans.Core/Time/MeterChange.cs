namespace Lyrotrans.Core.Time;

/// <summary>
/// A meter from the start of a bar on. Bars count 1, 2, 3 … from the first; 0, −1 … lie before it. The value that nobody set is 4/4 from bar 1, the meter that
/// holds where nothing else is said.
/// </summary>
public readonly record struct MeterChange
{
    // What the fields differ by from bar 1 and 4/4.
    private readonly long _bar;
    private readonly int _beats;
    private readonly int _beatUnit;

    /// <param name="bar">Bar number.</param>
    /// <param name="beats">Beats in a bar, at least 1.</param>
    /// <param name="beatUnit">The note that is one beat: 4 is a quarter, 8 an eighth.</param>
    public MeterChange(long bar, int beats, int beatUnit) => (Bar, Beats, BeatUnit) = (bar, beats, beatUnit);

    /// <summary>Bar number.</summary>
    public long Bar
    {
        get => _bar + 1;
        init => _bar = value - 1;
    }

    /// <summary>Beats in a bar, at least 1.</summary>
    public int Beats
    {
        get => _beats + 4;
        init => _beats = value - 4;
    }

    /// <summary>The note that is one beat: 4 is a quarter, 8 an eighth.</summary>
    public int BeatUnit
    {
        get => _beatUnit + 4;
        init => _beatUnit = value - 4;
    }

    /// <summary>Quarters in a beat.</summary>
    public Rational QuartersPerBeat => new(4, BeatUnit);

    /// <summary>Quarters in a bar.</summary>
    public Rational QuartersPerBar => new(4L * Beats, BeatUnit);

    public override string ToString() => $"{Beats}/{BeatUnit}";
}
