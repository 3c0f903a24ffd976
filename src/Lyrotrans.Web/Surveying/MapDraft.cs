using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Web.Surveying;

/// <summary>A tempo map under the engineer's hands, in text, and what is to keep its samples or its quarters.</summary>
public sealed record MapDraft(int From, string Bar1, IReadOnlyList<MapRowText> Rows, Anchor Audio = Anchor.Samples, Anchor Notes = Anchor.Quarters, Anchor Markers = Anchor.Samples)
{
    private const int MostRows = 20_000;
    private const int FastestTempo = 1000;
    private const int MostBeats = 255;
    private const int ShortestBeat = 128;

    /// <summary>Whether nothing that must be there is missing; what was sent may be anything.</summary>
    [System.Text.Json.Serialization.JsonIgnore]
    public bool IsWhole => Bar1 is not null && Rows is not null && Rows.All(r => r is { Kind: not null, At: not null, Value: not null });

    [System.Text.Json.Serialization.JsonIgnore]
    public Anchors Anchors => new(Audio, Notes, Markers);

    /// <summary>A session's map as rows; places are exact, with ratios for ticks where they must be.</summary>
    public static IEnumerable<MapRowText> RowsOf(Session session)
    {
        var meters = session.Meters;
        string At(Rational quarter) => Exact(meters.PositionAt(quarter));
        var rows = session.Tempo.Points.Select(p => (p.Quarter, Row: new MapRowText("tempo", At(p.Quarter), Number(p.QuartersPerMinute), p.Ramp)))
            .Concat(meters.Changes.Select(m => (Quarter: meters.StartOfBar(m.Bar), Row: new MapRowText("meter", At(meters.StartOfBar(m.Bar)), m.ToString()))))
            .Concat(session.Keys.Select(k => (k.Quarter, Row: new MapRowText("key", At(k.Quarter), k.Name))));
        return rows.OrderBy(r => r.Quarter).Select(r => r.Row);
    }

    /// <summary>The map that the rows say.</summary>
    /// <exception cref="FormatException">A row cannot be understood; says which and why.</exception>
    public MusicMap Parse(Session session)
    {
        if (Rows.Count > MostRows)
        {
            throw new FormatException($"There are {Rows.Count} rows, and {MostRows} at most.");
        }

        var meters = Meters();
        Rational Quarter(MapRowText row) => meters.QuarterOf(Position(row));
        var tempos = Of("tempo").Select(r => new TempoPoint(Quarter(r), Tempo(r), r.Ramp)).OrderBy(p => p.Quarter).ToList();
        var keys = Of("key").Select(r => KeyChange.TryParse(r.Value, Quarter(r), out var key) ? key : throw Problem(r, "is no key such as Dm, Bb or F#m")).OrderBy(k => k.Quarter).ToList();
        if (tempos.Count == 0)
        {
            throw new FormatException("A map needs at least one tempo.");
        }

        for (var i = 1; i < tempos.Count; i++)
        {
            if (tempos[i].Quarter == tempos[i - 1].Quarter)
            {
                throw new FormatException($"Two tempos lie at {meters.NearestTick(tempos[i].Quarter)}.");
            }
        }

        var bar1 = PositionText.Parse(session, "samples", Bar1) ?? PositionText.Parse(session, "timecode", Bar1)
            ?? throw new FormatException($"Bar 1: \"{Bar1}\" is no sample and no timecode.");
        return new MusicMap(new TempoMap(tempos.ToValueArray()), meters, keys.ToValueArray(), bar1);
    }

    private IEnumerable<MapRowText> Of(string kind) => Rows.Where(r => r.Kind == kind);

    private MeterMap Meters()
    {
        var changes = Of("meter").Select(Meter).OrderBy(m => m.Bar).ToList();
        if (changes.Count == 0)
        {
            throw new FormatException("A map needs at least one meter.");
        }

        var twice = changes.GroupBy(c => c.Bar).FirstOrDefault(g => g.Count() > 1);
        return twice is null ? new MeterMap(changes.ToValueArray()) : throw new FormatException($"Two meters lie at bar {twice.Key}.");
    }

    private static MeterChange Meter(MapRowText row)
    {
        var position = Position(row);
        if (position.Beat != 1 || position.Tick.Sign != 0)
        {
            throw Problem(row, "cannot begin there: a meter begins with a bar");
        }

        return row.Value.Split('/') is [var b, var u] && int.TryParse(b.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var beats)
            && int.TryParse(u.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var unit) && beats is >= 1 and <= MostBeats && unit is >= 1 and <= ShortestBeat
            ? new MeterChange(position.Bar, beats, unit)
            : throw Problem(row, "is no meter such as 7/8");
    }

    private static Rational Tempo(MapRowText row) =>
        Rational.TryParse(row.Value.Trim(), out var tempo) && tempo >= 1 && tempo <= FastestTempo ? tempo : throw Problem(row, $"is no tempo; it is 1 to {FastestTempo} quarters a minute");

    private static MusicalPosition Position(MapRowText row) => MusicalPosition.TryParse(row.At, out var position) && Math.Abs(position.Bar) < 1_000_000
        ? position
        : throw new FormatException($"The {row.Kind} {row.Value}: \"{row.At}\" is no place such as 13.1.0.");

    private static FormatException Problem(MapRowText row, string what) => new($"At {row.At}: \"{row.Value}\" {what}.");

    private static string Exact(MusicalPosition position) => string.Create(CultureInfo.InvariantCulture, $"{position.Bar}.{position.Beat}.{position.Tick}");

    // As a decimal where that is the same number, else as a ratio.
    private static string Number(Rational value)
    {
        var text = value.ToDouble().ToString("0.######", CultureInfo.InvariantCulture);
        return Rational.TryParse(text, out var same) && same == value ? text : value.ToString();
    }
}
