using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Proof;

namespace Lyrotrans.Formats.Midi;

/// <summary>Compares a found MIDI file with the meant one, in ticks, event by event.</summary>
public static class MidiComparison
{
    /// <summary>A row for each kind of thing that was compared, passed or not.</summary>
    /// <param name="meant">As it is written.</param>
    /// <param name="found">As it was read.</param>
    /// <param name="tempos">Whether the tempo events are compared too; those of earlier forms were others.</param>
    public static IEnumerable<ProofRow> Compare(SmfFile meant, SmfFile found, bool tempos = true)
    {
        var (a, b) = (SmfContents.Of(meant), SmfContents.Of(found));
        yield return Row("MIDI", "ticks a quarter", meant.TicksPerQuarter.ToString(), found.TicksPerQuarter.ToString());
        yield return Row("MIDI", "type", meant.Type.ToString(), found.Type.ToString());
        yield return Row("MIDI", "start timecode", Start(a), Start(b));
        if (tempos)
        {
            yield return List("MIDI", "tempos", a.Tempos, b.Tempos, t => $"{t.Microseconds} µs at tick {t.Tick}");
        }

        yield return List("MIDI", "meters", a.Meters, b.Meters, m => $"{m.Beats}/{m.BeatUnit} at tick {m.Tick}");
        yield return List("MIDI", "keys", a.Keys, b.Keys, k => $"{k.Sharps} {(k.Minor ? "minor" : "major")} at tick {k.Tick}");
        yield return List("MIDI", "markers", a.Markers, b.Markers, m => $"{m.Text} at tick {m.Tick}");
        yield return Row("MIDI", "tracks", a.Tracks.Count.ToString(), b.Tracks.Count.ToString());
        for (var i = 0; i < Math.Min(a.Tracks.Count, b.Tracks.Count); i++)
        {
            var name = a.Tracks[i].Name;
            yield return Row(name, "MIDI track name", name, b.Tracks[i].Name);
            yield return List(name, "notes", a.Tracks[i].Notes, b.Tracks[i].Notes, n => $"key {n.Key} at tick {n.Tick}, {n.Length} long, velocity {n.Velocity}");
            yield return List(name, "controllers", a.Tracks[i].Controls, b.Tracks[i].Controls, c => $"{c.Kind} {c.Number} = {c.Value} at tick {c.Tick}");
        }
    }

    private static string Start(SmfContents contents) => contents.SmpteOffset.Count == 0 ? "none" : string.Join(':', contents.SmpteOffset.Take(5));

    private static ProofRow Row(string subject, string what, string meant, string found) =>
        new(subject, what, meant, found, meant == found ? "0" : "differs", meant == found);

    private static ProofRow List<T>(string subject, string what, IReadOnlyList<T> meant, IReadOnlyList<T> found, Func<T, string> words)
    {
        var same = meant.SequenceEqual(found);
        if (same)
        {
            return new ProofRow(subject, what, Digits.Grouped(meant.Count), Digits.Grouped(found.Count), "0", true);
        }

        var i = Enumerable.Range(0, Math.Max(meant.Count, found.Count)).First(
            n => n >= meant.Count || n >= found.Count || !Equals(meant[n], found[n]));
        var difference = meant.Count == found.Count ? "differs" : Digits.Grouped(found.Count - meant.Count);
        return new ProofRow(subject, what, Words(meant, i, words), Words(found, i, words), difference, false);
    }

    private static string Words<T>(IReadOnlyList<T> items, int i, Func<T, string> words) =>
        $"{Digits.Grouped(items.Count)}{(i < items.Count ? $"; no. {i + 1}: {words(items[i])}" : $"; no. {i + 1} missing")}";
}
