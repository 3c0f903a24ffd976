namespace Lyrotrans.Core.Time;

/// <summary>A meter from the start of a bar on. Bars count 1, 2, 3 … from the first; 0, −1 … lie before it.</summary>
/// <param name="Bar">Bar number.</param>
/// <param name="Beats">Beats in a bar, at least 1.</param>
/// <param name="BeatUnit">The note that is one beat: 4 is a quarter, 8 an eighth.</param>
public readonly record struct MeterChange(long Bar, int Beats, int BeatUnit)
{
    public Rational QuartersPerBeat => new(4, BeatUnit);

    public Rational QuartersPerBar => new(4L * Beats, BeatUnit);

    public override string ToString() => $"{Beats}/{BeatUnit}";
}
