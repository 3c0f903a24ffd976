using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>Whether and how a click goes with the package.</summary>
/// <param name="Print">As a sound file.</param>
/// <param name="Midi">As a part in the MIDI file.</param>
/// <param name="LevelDb">Peak of the bar's first beat, in dBFS, at most 0.</param>
/// <param name="CountInBars">Whole bars before the start, 0 to 2.</param>
/// <param name="Accents">Typed-in patterns; a meter that is not among them has its usual one.</param>
/// <param name="Voice">What it sounds like.</param>
/// <param name="Parts">How many clicks a beat has, 1 to 4: between beats they are softer.</param>
/// <param name="TempoInName">Whether the name of its file says the tempo.</param>
public sealed record ClickChoices(
    bool Print = false, bool Midi = false, double LevelDb = -6, int CountInBars = 0, CountIn CountIn = CountIn.AllFiles, ValueArray<MeterAccents> Accents = default,
    ClickVoice Voice = ClickVoice.Tones, int Parts = 1, bool TempoInName = false)
{
    /// <summary>What its file is called, without extension; null is by the pattern of all names.</summary>
    public string? FileName { get; init; }

    /// <summary>Of its file, in characters.</summary>
    public const int LongestName = 100;

    /// <summary>The most bars that a count-in can have.</summary>
    public const int MostCountInBars = 2;

    /// <summary>The most clicks that a beat can have.</summary>
    public const int MostParts = 4;

    /// <summary>Whether there is any click.</summary>
    public bool Goes => Print || Midi;

    /// <summary>The accents of a meter: those that were typed in, or the usual ones.</summary>
    public AccentPattern PatternOf(MeterChange meter) =>
        Accents.FirstOrDefault(a => a.Beats == meter.Beats && a.BeatUnit == meter.BeatUnit)?.Pattern ?? AccentPattern.Usual(meter);
}
