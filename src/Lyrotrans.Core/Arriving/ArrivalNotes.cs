using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Arriving;

/// <summary>
/// What became of the notes, track by track. Notes are known by their keys and places alone: names, order, tracks, channels and the unit of ticks may be others there, and all may lie some quarters later.
/// </summary>
internal sealed class ArrivalNotes
{
    // Nearer than any tick that programs write is the same place.
    private const double Same = 1.0 / 7680;

    // Farther away it is another note.
    private const double Near = 0.26;

    // Of so many notes at the beginning each may be the first that came.
    private const int FirstNotes = 12;
    private readonly List<Sounding> _sent;
    private readonly List<Sounding> _found;
    private readonly ArrivalFindings _findings;
    private readonly int _ticks;

    private ArrivalNotes(Session sent, Session found, ArrivalFindings findings)
    {
        (_sent, _found, _findings) = (Notes(sent), Notes(found), findings);
        _ticks = found.Tracks.SelectMany(t => t.Parts).Select(p => p.TicksPerQuarter).DefaultIfEmpty(0).Max();
        Shift = Later();
    }

    /// <summary>Quarters by which the notes lie later there.</summary>
    public double Shift { get; }

    /// <summary>Notes that were sent.</summary>
    public int Count => _sent.Count;

    /// <param name="sent">What was sent.</param>
    /// <param name="found">What the other side has.</param>
    /// <param name="findings">Gets what differs.</param>
    public static ArrivalNotes Compare(Session sent, Session found, ArrivalFindings findings)
    {
        var notes = new ArrivalNotes(sent, found, findings);
        notes.Compare();
        return notes;
    }

    private static List<Sounding> Notes(Session session) => [.. session.Tracks.SelectMany(t => t.Parts.Where(p => !p.Muted).SelectMany(p => p.Notes
        .Where(n => new Rational(n.Tick, p.TicksPerQuarter) < p.LengthQuarters)
        .Select(n => new Sounding(t, n, (p.StartQuarter + new Rational(n.Tick, p.TicksPerQuarter)).ToDouble(), n.Length / (double)p.TicksPerQuarter)))).OrderBy(n => n.Quarter)];

    /// <summary>The shift at which most notes of the beginning are there: whichever of them came first.</summary>
    private double Later()
    {
        var places = _found.ToLookup(n => n.Note.Key, n => n.Quarter);
        var probes = Enumerable.Range(0, Math.Min(_sent.Count, 4 * FirstNotes)).Select(i => _sent[(int)((long)i * _sent.Count / Math.Min(_sent.Count, 4 * FirstNotes))]).ToList();
        return _sent.Take(FirstNotes).SelectMany(s => _found.Where(f => f.Note.Key == s.Note.Key).Take(FirstNotes).Select(f => f.Quarter - s.Quarter)).Append(0).Select(d => Math.Round(d, 6)).Distinct()
            .MaxBy(d => (probes.Count(p => places[p.Note.Key].Any(q => Math.Abs(q - d - p.Quarter) < Same)), -Math.Abs(d)));
    }

    private void Compare()
    {
        if (_sent.Count == 0)
        {
            return;
        }

        if (_found.Count == 0)
        {
            _findings.Common($"No notes came: {Phrases.Count(_sent.Count, "note")} were sent.");
            return;
        }

        var pairs = Paired();
        var rounded = Rounded(pairs);
        if (Math.Abs(Shift) >= Same)
        {
            _findings.Common($"Notes lie {Quarters(Math.Abs(Shift))} {(Shift > 0 ? "later" : "earlier")}, counted from bar 1.");
        }

        if (_sent.Select(s => s.Track.Id).Distinct().Count() > 1 && _found.Select(f => f.Track.Id).Distinct().Count() == 1)
        {
            _findings.Common("All notes came on one track.");
        }

        foreach (var track in _sent.GroupBy(s => s.Track.Id).Select(g => g.ToList()))
        {
            Track(track, pairs, rounded);
        }

        var extra = _found.Count - pairs.Count;
        if (extra > 0)
        {
            _findings.Row("notes", "not sent", "none", Phrases.Count(extra, "note"), "added");
        }
    }

    /// <summary>Each sent note with the nearest of its key that no other has; those that lie where they were sent are taken first.</summary>
    private Dictionary<Sounding, Sounding> Paired()
    {
        var (result, taken) = (new Dictionary<Sounding, Sounding>(), new HashSet<Sounding>());
        var keys = _found.GroupBy(f => f.Note.Key).ToDictionary(g => g.Key, g => (Notes: g.ToList(), Places: g.Select(f => f.Quarter).ToList()));
        foreach (var within in new[] { Same, Near })
        {
            foreach (var sent in _sent.Where(s => !result.ContainsKey(s)))
            {
                if (keys.TryGetValue(sent.Note.Key, out var same) && Nearest(same.Notes, same.Places, sent.Quarter + Shift, within, taken) is { } found)
                {
                    result[sent] = found;
                    taken.Add(found);
                }
            }
        }

        return result;
    }

    // Outwards from the place, past those that are taken: never more of them than notes were sent.
    private static Sounding? Nearest(List<Sounding> notes, List<double> places, double at, double within, HashSet<Sounding> taken)
    {
        var right = places.BinarySearch(at) is var i && i < 0 ? ~i : i;
        var left = right - 1;
        while (true)
        {
            var (before, after) = (left >= 0 ? at - places[left] : double.MaxValue, right < places.Count ? places[right] - at : double.MaxValue);
            if (Math.Min(before, after) >= within)
            {
                return null;
            }

            var nearest = before < after ? notes[left--] : notes[right++];
            if (!taken.Contains(nearest))
            {
                return nearest;
            }
        }
    }

    // All are moved by less than a tick of the other side, and lie on its ticks.
    private bool Rounded(Dictionary<Sounding, Sounding> pairs)
    {
        var moved = pairs.Count(p => Math.Abs(Moved(p)) >= Same);
        if (moved < 2 || _ticks == 0 || !pairs.All(p => Math.Abs(Moved(p)) <= 1.0 / _ticks))
        {
            return false;
        }

        _findings.Common($"Notes are rounded to ticks of which {Digits.Grouped(_ticks)} make a quarter: {Phrases.Count(moved, "note")} moved.");
        return true;
    }

    private void Track(List<Sounding> sent, Dictionary<Sounding, Sounding> pairs, bool rounded)
    {
        var here = sent.Where(pairs.ContainsKey).Select(s => KeyValuePair.Create(s, pairs[s])).ToList();
        void Row(string what, int count, Func<string> most)
        {
            if (count > 0)
            {
                _findings.Row(sent[0].Track.Name, what, Phrases.Count(sent.Count, "note"), Phrases.Count(here.Count, "note"), $"{Digits.Grouped(count)} {most()}");
            }
        }

        Row("notes", sent.Count - here.Count, () => ArrivalComparison.Missing);
        var late = here.Where(p => Math.Abs(Moved(p)) >= Same).ToList();
        Row("starts of notes", rounded ? 0 : late.Count, () => $"moved, by up to {Quarters(late.Max(p => Math.Abs(Moved(p))))}");
        var long_ = here.Where(p => Math.Abs(p.Value.Length - p.Key.Length) >= (rounded ? 1.0 / _ticks : 0) + Same).ToList();
        Row("lengths of notes", long_.Count, () => $"others, by up to {Quarters(long_.Max(p => Math.Abs(p.Value.Length - p.Key.Length)))}");
        Row("velocities", here.Count(p => p.Value.Note.Velocity != p.Key.Note.Velocity), () => "others");
        Row("MIDI channels", here.Count(p => p.Value.Note.Channel != p.Key.Note.Channel), () => "others");
    }

    private double Moved(KeyValuePair<Sounding, Sounding> pair) => pair.Value.Quarter - Shift - pair.Key.Quarter;

    private static string Quarters(double quarters) => string.Create(CultureInfo.InvariantCulture, $"{quarters:0.####} quarters");

    /// <summary>A note where it sounds. Two that are alike are two.</summary>
    private sealed class Sounding(Track track, Note note, double quarter, double length)
    {
        public Track Track => track;

        public Note Note => note;

        /// <summary>From bar 1.</summary>
        public double Quarter => quarter;

        /// <summary>In quarters.</summary>
        public double Length => length;
    }
}
