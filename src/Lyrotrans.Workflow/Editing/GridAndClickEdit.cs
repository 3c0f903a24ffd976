using System.Globalization;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Workflow.Editing;

/// <summary>How MIDI and the click go, as it was typed and chosen.</summary>
public sealed record GridAndClickEdit
{
    private const double LowestLevelDb = -24;

    /// <summary>How parts become MIDI files.</summary>
    public MidiForm Form { get; init; }

    /// <summary>Whether tempo is corrected to keep every beat on its sample.</summary>
    public TempoForm Tempo { get; init; }

    /// <summary>Whether muted parts go along.</summary>
    public bool MutedParts { get; init; }

    /// <summary>Whether the click goes as sound.</summary>
    public bool ClickPrint { get; init; }

    /// <summary>Whether the click goes as notes.</summary>
    public bool ClickMidi { get; init; }

    /// <summary>Of the click, in dBFS.</summary>
    public string Level { get; init; } = string.Empty;

    /// <summary>Bars before the start.</summary>
    public int CountInBars { get; init; }

    /// <summary>What begins with the count-in.</summary>
    public CountIn CountIn { get; init; }

    /// <summary>Meters such as <c>7/8</c>, and at the same places their patterns.</summary>
    public IReadOnlyList<string>? Meters { get; init; }

    /// <summary>Groups of beats such as <c>2+2+3</c>, one for each of <see cref="Meters"/>.</summary>
    public IReadOnlyList<string>? Patterns { get; init; }

    /// <summary>The preparation with these choices.</summary>
    public Edit<Preparation> Apply(Preparation preparation)
    {
        if (!double.TryParse(Level.Replace('−', '-').Trim(), NumberStyles.Float, CultureInfo.InvariantCulture, out var level) || level is not (>= LowestLevelDb and <= 0))
        {
            return new Refused($"\"{Level}\" is no level for the click; it is −24 to 0 dBFS.");
        }

        if (CountInBars is < 0 or > ClickChoices.MostCountInBars || !Enum.IsDefined(CountIn) || !Enum.IsDefined(Form) || !Enum.IsDefined(Tempo))
        {
            return new Refused("There is no such choice.");
        }

        var accents = new List<MeterAccents>();
        foreach (var (meter, typed) in (Meters ?? []).Zip(Patterns ?? []))
        {
            if (meter.Split('/') is not [var b, var u] || !int.TryParse(b, out var beats) || !int.TryParse(u, out var unit) || unit is < 1 or > 255)
            {
                return new Refused($"\"{meter}\" is no meter.");
            }

            if (!AccentPattern.TryParse(typed, out var pattern) || pattern.Beats != beats)
            {
                return new Refused($"\"{typed}\" does not add up to the {beats} beats of {meter}; write groups such as 2+2+3.");
            }

            // What is the usual pattern anyway is not kept, so that it follows the rule.
            if (pattern != AccentPattern.Usual(new Core.Time.MeterChange(1, beats, unit)))
            {
                accents.Add(new MeterAccents(beats, unit, pattern));
            }
        }

        var after = preparation with
        {
            Midi = new MidiChoices(Form, Tempo, MutedParts),
            Click = new ClickChoices(ClickPrint, ClickMidi, level, CountInBars, CountIn, accents.ToValueArray()),
        };
        return new Edit<Preparation>(after, Words(preparation, after), null);
    }

    private static string Words(Preparation before, Preparation after) => string.Join(", ", new[]
    {
        Choices.MidiForms.Changed(before.Midi.Form, after.Midi.Form),
        Choices.Tempos.Changed(before.Midi.Tempo, after.Midi.Tempo),
        before.Midi.MutedParts == after.Midi.MutedParts ? null : after.Midi.MutedParts ? "muted parts go" : "muted parts stay out",
        before.Click.Print == after.Click.Print ? null : after.Click.Print ? "click printed" : "no click printed",
        before.Click.Midi == after.Click.Midi ? null : after.Click.Midi ? "click as notes" : "no click as notes",
        before.Click.LevelDb == after.Click.LevelDb ? null : $"click at {Core.Sound.Decibels.Words(after.Click.LevelDb)} dBFS",
        before.Click.CountInBars == after.Click.CountInBars && before.Click.CountIn == after.Click.CountIn ? null : $"count-in of {after.Click.CountInBars}, {Choices.CountIns[after.Click.CountIn].Change}",
        before.Click.Accents == after.Click.Accents ? null : $"accents {string.Join(", ", after.Click.Accents.Select(a => $"{a.Beats}/{a.BeatUnit} as {a.Pattern}"))}".TrimEnd(),
    }.OfType<string>());
}
