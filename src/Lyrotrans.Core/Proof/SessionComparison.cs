using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Proof;

/// <summary>
/// Compares a found session with a meant one, object by object and value by value. What people look for has a row of its own, passed or not; everything else
/// that the model declares is compared by <see cref="ValueDifferences"/>, and has a row where it differs.
/// </summary>
public sealed class SessionComparison
{
    // Each has rows of its own below; no other field of the model is left out.
    private static readonly Dictionary<Type, string[]> s_shown = new()
    {
        [typeof(Session)] =
        [
            nameof(Session.Rate), nameof(Session.Start), nameof(Session.Bar1Sample), nameof(Session.Tempo), nameof(Session.Meters), nameof(Session.Keys), nameof(Session.Markers), nameof(Session.Comments),
            nameof(Session.Media), nameof(Session.Tracks),
        ],
        [typeof(Track)] = [nameof(Track.Name), nameof(Track.FaderDb), nameof(Track.FaderAutomation), nameof(Track.Pan), nameof(Track.PanAutomation), nameof(Track.Lanes), nameof(Track.Parts)],
        [typeof(Lane)] = [nameof(Lane.Clips)],
        [typeof(Clip)] = [nameof(Clip.Start), nameof(Clip.Length), nameof(Clip.SourceOffset), nameof(Clip.FadeIn), nameof(Clip.FadeOut), nameof(Clip.GainDb), nameof(Clip.GainCurve)],
        [typeof(NotePart)] = [nameof(NotePart.StartQuarter), nameof(NotePart.LengthQuarters), nameof(NotePart.Notes), nameof(NotePart.Controls)],
    };

    private readonly HeldValues _held;
    private readonly ValueDifferences _differences;
    private readonly List<ProofRow> _rows = [];

    private SessionComparison(HeldValues held)
    {
        _held = held;
        _differences = new ValueDifferences((type, name) => (s_shown.TryGetValue(type, out var shown) && shown.Contains(name)) || held.Lacks(type, name));
    }

    /// <summary>A row for each kind of thing that was compared, passed or not.</summary>
    /// <param name="meant">What was to be written.</param>
    /// <param name="found">What was read.</param>
    /// <param name="held">What the form holds that it was written in, and how exactly; everything, exactly, where it is not said.</param>
    public static IReadOnlyList<ProofRow> Compare(Session meant, Session found, HeldValues? held = null)
    {
        var comparison = new SessionComparison(held ?? HeldValues.All);
        comparison.CompareFacts(meant, found);
        comparison.CompareTracks(meant, found);
        return comparison._rows;
    }

    private void CompareFacts(Session meant, Session found)
    {
        Value("Session", "rate", meant.Rate, found.Rate, r => r.ToString());
        Value("Session", "start", meant.Start, found.Start, t => $"{t} at {t.Rate}");
        Samples("Session", "bar 1", meant.Bar1Sample, found.Bar1Sample);
        Rest("Session", meant, found);
        SameList("Tempo", meant.Tempo.Points, found.Tempo.Points, p => $"{p.QuartersPerMinute} from quarter {p.Quarter}{(p.Ramp ? ", ramp" : string.Empty)}");
        SameList("Meter", meant.Meters.Changes, found.Meters.Changes, m => $"{m} from bar {m.Bar}");
        SameList("Key", meant.Keys, found.Keys, k => $"{k.Name} from quarter {k.Quarter}");
        SameList("Marker", meant.Markers, found.Markers, m => $"{m.Text} at {Digits.Grouped(m.Sample)}, length {Digits.Grouped(m.Length)}");
        SameList("Comment", meant.Comments, found.Comments, c => $"{c.Name}: {c.Text}");
        SameList("Media", meant.Media, found.Media, m => $"{m.FileName}, {m.Rate}, {Digits.Grouped(m.Length)} samples, {m.Sha256}");
    }

    private void CompareTracks(Session meant, Session found) => Matched("Session", "track", meant.Tracks, found.Tracks, t => t.Id, t => t.Name, CompareTrack);

    /// <summary>Compares those that have one identifier, names those that only one side has, and says where they lie in another order.</summary>
    private void Matched<T>(string owner, string what, ValueArray<T> meant, ValueArray<T> found, Func<T, string> id, Func<T, string> subject, Action<T, T> compare)
    {
        var others = new Dictionary<string, T>();
        foreach (var item in found)
        {
            if (!others.TryAdd(id(item), item))
            {
                Same(subject(item), what, "once", "twice");
            }
        }

        var (before, after) = (meant.Select(id).Where(others.ContainsKey).ToList(), found.Select(id).Where(meant.Select(id).ToHashSet().Contains).ToList());
        Same(owner, $"order of {what}s", "as in the session", before.SequenceEqual(after) ? "as in the session" : "another", onlyFailures: true);
        foreach (var item in meant)
        {
            if (others.Remove(id(item), out var other))
            {
                compare(item, other);
            }
            else
            {
                Same(subject(item), what, "there", "missing");
            }
        }

        foreach (var extra in others.Values)
        {
            Same(subject(extra), what, "not there", "there");
        }
    }

    private void CompareTrack(Track meant, Track found)
    {
        Same(meant.Name, "name", meant.Name, found.Name);
        Gain(meant.Name, "fader", (meant.FaderDb, meant.FaderAutomation), (found.FaderDb, found.FaderAutomation));
        var pansAgree = Math.Abs(meant.Pan - found.Pan) <= _held.PanBound && Near(meant.PanAutomation, found.PanAutomation, _held.PanBound);
        Same(meant.Name, "pan", Pan(meant.Pan, meant.PanAutomation), pansAgree ? Pan(meant.Pan, meant.PanAutomation) : $"{Pan(found.Pan, found.PanAutomation)}, other", onlyFailures: true);
        Rest(meant.Name, meant, found);
        Samples(meant.Name, "lanes", meant.Lanes.Count, found.Lanes.Count, "lanes");
        for (var i = 0; i < Math.Min(meant.Lanes.Count, found.Lanes.Count); i++)
        {
            CompareLane(meant.Name, meant.Lanes[i], found.Lanes[i]);
        }

        Matched(meant.Name, "part", meant.Parts, found.Parts, p => p.Id, p => $"{meant.Name}, {p.Name}", (part, other) => ComparePart($"{meant.Name}, {part.Name}", part, other));
    }

    private void CompareLane(string track, Lane meant, Lane found)
    {
        Rest($"{track}, {meant.Name}", meant, found);
        Matched(track, "clip", meant.Clips, found.Clips, c => c.Id, c => $"{track}, {c.Name}", (clip, other) =>
        {
            var subject = $"{track}, {clip.Name}";
            Samples(subject, "start", clip.Start, other.Start);
            Samples(subject, "length", clip.Length, other.Length);
            Samples(subject, "source from", clip.SourceOffset, other.SourceOffset);
            Fades(subject, "fade in", clip.FadeIn, other.FadeIn);
            Fades(subject, "fade out", clip.FadeOut, other.FadeOut);
            Gain(subject, "gain", (clip.GainDb, clip.GainCurve), (other.GainDb, other.GainCurve));
            Rest(subject, clip, other);
        });
    }

    private void ComparePart(string subject, NotePart meant, NotePart found)
    {
        Value(subject, "place", (meant.StartQuarter, meant.LengthQuarters), (found.StartQuarter, found.LengthQuarters), p => $"quarter {p.StartQuarter}, {p.LengthQuarters} long");
        Samples(subject, "notes", meant.Notes.Count, found.Notes.Count, "notes");
        Each(subject, "note", meant.Notes, found.Notes);
        Samples(subject, "controllers", meant.Controls.Count, found.Controls.Count, "events");
        Each(subject, "controller", meant.Controls, found.Controls);
        Rest(subject, meant, found);
    }

    // The first that is another stands for all behind it: one that is missing moves them all.
    private void Each<T>(string subject, string what, ValueArray<T> meant, ValueArray<T> found)
    {
        if (meant != found && meant.Count == found.Count)
        {
            var i = Enumerable.Range(0, meant.Count).First(n => !EqualityComparer<T>.Default.Equals(meant[n], found[n]));
            Rest($"{subject}, {what} {Digits.Grouped(i + 1)}", meant[i]!, found[i]!);
        }
    }

    /// <summary>Every other value that the model declares.</summary>
    private void Rest(string subject, object meant, object found)
    {
        foreach (var (where, what, a, b) in _differences.Between(subject, meant, found))
        {
            _rows.Add(new ProofRow(where, what, a, b, "differs", false));
        }
    }

    private void Fades(string subject, string what, Fade meant, Fade found)
    {
        if (meant.Length == 0 && meant == found)
        {
            return;
        }

        _rows.Add(new ProofRow(
            subject, what, Words(meant), Words(found), Digits.Grouped(found.Length - meant.Length), meant == found));
        static string Words(Fade fade) => $"{Digits.Grouped(fade.Length)} {fade.Shape}";
    }

    /// <summary>A level and the points that move it: each on its sample.</summary>
    private void Gain(string subject, string what, (double Db, Automation? Curve) meant, (double Db, Automation? Curve) found)
    {
        var difference = found.Db - meant.Db;
        _rows.Add(new ProofRow(
            subject, what, Words(meant), Words(found), difference.ToString(Math.Abs(difference) < 0.001 ? "0.###############" : "0.000", CultureInfo.InvariantCulture),
            Math.Abs(difference) <= _held.GainBound && Near(meant.Curve, found.Curve, _held.GainBound)));
        static string Words((double Db, Automation? Curve) level) =>
            $"{Sound.Decibels.Words(level.Db, 3)} dB{(level.Curve is { } curve ? $", {Digits.Grouped(curve.Points.Count)} points" : string.Empty)}";
    }

    private static bool Near(Automation? meant, Automation? found, double tolerance)
    {
        if (meant is null || found is null)
        {
            return meant is null && found is null;
        }

        var near = meant.Points.Count == found.Points.Count && meant.Interpolation == found.Interpolation;
        for (var i = 0; near && i < meant.Points.Count; i++)
        {
            near = meant.Points[i].Sample == found.Points[i].Sample && Math.Abs(meant.Points[i].Value - found.Points[i].Value) <= tolerance;
        }

        return near;
    }

    private static string Pan(double pan, Automation? moves) =>
        pan.ToString("0.######", CultureInfo.InvariantCulture) + (moves is { } curve ? $", {Digits.Grouped(curve.Points.Count)} points" : string.Empty);

    private void Samples(string subject, string what, long meant, long found, string unit = "samples") => _rows.Add(new ProofRow(
        subject, what, $"{Digits.Grouped(meant)} {unit}", $"{Digits.Grouped(found)} {unit}", Digits.Grouped(found - meant), meant == found));

    // By what they are; words that are equal may stand for two values.
    private void Value<T>(string subject, string what, T meant, T found, Func<T, string> words)
    {
        var same = EqualityComparer<T>.Default.Equals(meant, found);
        _rows.Add(new ProofRow(subject, what, words(meant), words(found), same ? "0" : "differs", same));
    }

    private void Same(string subject, string what, string meant, string found, bool onlyFailures = false)
    {
        if (!onlyFailures || meant != found)
        {
            _rows.Add(new ProofRow(subject, what, meant, found, meant == found ? "0" : "differs", meant == found));
        }
    }

    private void SameList<T>(string subject, ValueArray<T> meant, ValueArray<T> found, Func<T, string> words)
    {
        for (var i = 0; i < Math.Max(meant.Count, found.Count); i++)
        {
            var item = $"{subject} {i + 1}";
            var a = i < meant.Count ? words(meant[i]) : "not there";
            var b = i < found.Count ? words(found[i]) : "missing";
            if (a == b && ValueDifferences.FieldsOf(typeof(T)).Count == 0)
            {
                // A value by itself: it is compared as one, whatever its words show of it.
                Value(item, "value", meant[i], found[i], words);
                continue;
            }

            Same(item, "value", a, b);
            if (a == b)
            {
                Rest(item, meant[i]!, found[i]!);
            }
        }
    }
}
