using System.Globalization;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Web.Pages.Transfers;

/// <summary>How MIDI and the click go, as it was typed and chosen.</summary>
public sealed record GridAndClickForm
{
    private const double LowestLevelDb = -24;

    public MidiForm Form { get; init; }

    public TempoForm Tempo { get; init; }

    public bool MutedParts { get; init; }

    public bool ClickPrint { get; init; }

    public bool ClickMidi { get; init; }

    public string Level { get; init; } = string.Empty;

    public int CountInBars { get; init; }

    public CountIn CountIn { get; init; }

    /// <summary>Meters such as <c>7/8</c>, and at the same places their patterns.</summary>
    public IReadOnlyList<string>? Meters { get; init; }

    public IReadOnlyList<string>? Patterns { get; init; }

    /// <summary>The preparation with these choices; or what is wrong with them.</summary>
    public (Preparation? Changed, string? Problem) Apply(Preparation preparation)
    {
        if (!double.TryParse(Level.Replace('−', '-').Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var level) || level is not (>= LowestLevelDb and <= 0))
        {
            return (null, $"\"{Level}\" is no level for the click; it is −24 to 0 dBFS.");
        }

        if (CountInBars is < 0 or > ClickChoices.MostCountInBars || !Enum.IsDefined(CountIn) || !Enum.IsDefined(Form) || !Enum.IsDefined(Tempo))
        {
            return (null, "There is no such choice.");
        }

        var accents = new List<MeterAccents>();
        foreach (var (meter, typed) in (Meters ?? []).Zip(Patterns ?? []))
        {
            if (meter.Split('/') is not [var b, var u] || !int.TryParse(b, out var beats) || !int.TryParse(u, out var unit) || unit is < 1 or > 255)
            {
                return (null, $"\"{meter}\" is no meter.");
            }

            if (!AccentPattern.TryParse(typed, out var pattern) || pattern.Beats != beats)
            {
                return (null, $"\"{typed}\" does not add up to the {beats} beats of {meter}; write groups such as 2+2+3.");
            }

            // What is the usual pattern anyway is not kept, so that it follows the rule.
            if (pattern != AccentPattern.Usual(new Core.Time.MeterChange(1, beats, unit)))
            {
                accents.Add(new MeterAccents(beats, unit, pattern));
            }
        }

        return (preparation with
        {
            Midi = new MidiChoices(Form, Tempo, MutedParts),
            Click = new ClickChoices(ClickPrint, ClickMidi, level, CountInBars, CountIn, accents.ToValueArray()),
        }, null);
    }

    /// <summary>What changed, for the revision list.</summary>
    public static string Words(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        before.Midi.Form == after.Midi.Form ? null : after.Midi.Form switch { MidiForm.OneFile => "MIDI as one file", MidiForm.TrackPerPart => "a MIDI track for each part", _ => "a MIDI file for each part" },
        before.Midi.Tempo == after.Midi.Tempo ? null : after.Midi.Tempo == TempoForm.Corrected ? "tempo corrected" : "tempo plain",
        before.Midi.MutedParts == after.Midi.MutedParts ? null : after.Midi.MutedParts ? "muted parts go" : "muted parts stay out",
        before.Click.Print == after.Click.Print ? null : after.Click.Print ? "click printed" : "no click printed",
        before.Click.Midi == after.Click.Midi ? null : after.Click.Midi ? "click as notes" : "no click as notes",
        before.Click.LevelDb == after.Click.LevelDb ? null : $"click at {Core.Sound.Decibels.Words(after.Click.LevelDb)} dBFS",
        before.Click.CountInBars == after.Click.CountInBars && before.Click.CountIn == after.Click.CountIn ? null : $"count-in of {after.Click.CountInBars}, {(after.Click.CountIn == CountIn.AllFiles ? "all files start there" : "the click alone")}",
        before.Click.Accents == after.Click.Accents ? null : $"accents {string.Join(", ", after.Click.Accents.Select(a => $"{a.Beats}/{a.BeatUnit} as {a.Pattern}"))}".TrimEnd(),
    }.OfType<string>());
}
