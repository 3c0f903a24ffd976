using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Clicking;

/// <summary>The tempo map that a click says.</summary>
/// <param name="Map">Tempos, meters, and bar 1.</param>
/// <param name="Note">What each click was taken for.</param>
/// <param name="CountIn">Whole bars before bar 1.</param>
/// <param name="Accents">What told the first beat of a bar; where nothing did, bars are of four.</param>
/// <param name="Clicks">Clicks that the map holds.</param>
/// <param name="Missing">Beats between them that have no click.</param>
/// <param name="Strays">Clicks that lie on no beat.</param>
/// <param name="Earliest">The least that a click is off the map, in samples; below 0 where one is early.</param>
/// <param name="Latest">The most.</param>
public sealed record ClickMap(MusicMap Map, ClickNote Note, int CountIn, ClickAccents Accents, int Clicks, int Missing, int Strays, long Earliest, long Latest)
{
    /// <summary>The most bars of count-in that are taken for one.</summary>
    public const int MostCountIn = 2;

    // A beat as short as this is an eighth.
    private const double ShortestQuarterSeconds = 0.25;

    /// <summary>Reads the map off clicks.</summary>
    /// <param name="clicks">Ascending, in session samples.</param>
    /// <param name="rate">The session's.</param>
    /// <param name="note">What each stands for; none takes a quarter, or an eighth where they are fast or grouped.</param>
    /// <param name="countIn">Whole bars before bar 1; none takes as many, up to <see cref="MostCountIn"/>, as end before other sound begins.</param>
    /// <param name="firstSound">Where other sound begins; null where none is known.</param>
    /// <returns>Null where they are too few, or follow no beat: music, and no click.</returns>
    public static ClickMap? Read(IReadOnlyList<HeardClick> clicks, SampleRate rate, ClickNote? note = null, int? countIn = null, long? firstSound = null)
    {
        if (ClickBeats.Of(clicks) is not { } found)
        {
            return null;
        }

        var beats = found.Beats;
        var bars = ClickBars.Of(beats);
        var starts = bars.Starts.Where(s => beats.Any(b => b.Beat == s)).ToList();
        var counted = Math.Clamp(countIn ?? CountInBefore(firstSound, bars.Starts, beats), 0, Math.Max(0, bars.Starts.Count - 2));

        // Bar 1 needs a click of its own: its sample is that click's.
        while (counted > 0 && !starts.Contains(bars.Starts[counted]))
        {
            counted--;
        }

        var first = bars.Starts[counted];
        var taken = note ?? (bars.IsGrouped || Middle(beats, rate) < ShortestQuarterSeconds ? ClickNote.Eighth : ClickNote.Quarter);
        var placed = beats.Select(b => (Quarter: taken.Quarters() * (b.Beat - first), b.Click.Sample)).ToList();
        var bar1 = placed.First(p => p.Quarter.Sign == 0).Sample;
        var fromBar1 = placed.Where(p => p.Quarter.Sign >= 0).ToList();
        if (fromBar1.Count < 2)
        {
            return null;
        }

        var tempo = ClickTempo.Of(fromBar1, rate);
        var map = new MusicMap(tempo, Meters(bars.Starts, counted, taken), [], bar1);
        var clock = map.ClockAt(rate);
        var off = placed.Select(p => p.Sample - clock.SampleAt(p.Quarter)).ToList();
        return new ClickMap(map, taken, counted, bars.By, beats.Count, beats[^1].Beat + 1 - beats.Count, found.Strays, off.Min(), off.Max());
    }

    private static double Middle(IReadOnlyList<(HeardClick Click, int Beat)> beats, SampleRate rate) =>
        beats.Zip(beats.Skip(1), (a, b) => (double)(b.Click.Sample - a.Click.Sample) / (b.Beat - a.Beat)).Order().ElementAt((beats.Count - 1) / 2) / rate.PerSecond.ToDouble();

    // The bar that begins where other sound does, or last before it: a player who begins early by half a beat still begins with it.
    private static int CountInBefore(long? firstSound, IReadOnlyList<int> starts, IReadOnlyList<(HeardClick Click, int Beat)> beats)
    {
        if (firstSound is not { } sound)
        {
            return 0;
        }

        var half = (beats[1].Click.Sample - beats[0].Click.Sample) / 2;
        var before = starts.TakeWhile(s => beats.Any(b => b.Beat == s && b.Click.Sample <= sound + half)).Count() - 1;
        return before is > 0 and <= MostCountIn ? before : 0;
    }

    private static MeterMap Meters(IReadOnlyList<int> starts, int countIn, ClickNote note)
    {
        var changes = new List<MeterChange>();
        var before = 0;
        for (var i = 0; i + 1 < starts.Count; i++)
        {
            var clicks = starts[i + 1] - starts[i];
            if (clicks != before)
            {
                changes.Add(note.Meter(i + 1 - countIn, clicks));
                before = clicks;
            }
        }

        if (changes.Count == 0)
        {
            return MeterMap.FourFour;
        }

        // The meter of bar 1 reaches back over the count-in.
        var first = changes.Last(c => c.Bar <= 1) with { Bar = 1 };
        return new MeterMap([first, .. changes.Where(c => c.Bar > 1)]);
    }
}
