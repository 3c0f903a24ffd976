using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Proof;

/// <summary>Compares a found session with a meant one, object by object, to the sample, tick and a thousandth of a dB.</summary>
public sealed class SessionComparison
{
    private const double GainTolerance = 0.001;
    private const double PanTolerance = 0.000_001;
    private readonly List<ProofRow> _rows = [];

    private SessionComparison()
    {
    }

    /// <summary>A row for each kind of thing that was compared, passed or not.</summary>
    public static IReadOnlyList<ProofRow> Compare(Session meant, Session found)
    {
        var comparison = new SessionComparison();
        comparison.CompareFacts(meant, found);
        comparison.CompareTracks(meant, found);
        return comparison._rows;
    }

    private void CompareFacts(Session meant, Session found)
    {
        Same("Session", "rate", meant.Rate.ToString(), found.Rate.ToString());
        Same("Session", "start", $"{meant.Start} at {meant.FrameRate}", $"{found.Start} at {found.FrameRate}");
        Samples("Session", "bar 1", meant.Bar1Sample, found.Bar1Sample);
        Same("Session", "pan law", meant.PanLaw.Words(), found.PanLaw.Words(), onlyFailures: true);
        SameList("Tempo", meant.Tempo.Points, found.Tempo.Points, p => $"{p.QuartersPerMinute} from quarter {p.Quarter}{(p.Ramp ? ", ramp" : string.Empty)}");
        SameList("Meter", meant.Meters.Changes, found.Meters.Changes, m => $"{m} from bar {m.Bar}");
        SameList("Key", meant.Keys, found.Keys, k => $"{k.Name} from quarter {k.Quarter}");
        SameList("Marker", meant.Markers, found.Markers, m => $"{m.Text} at {Digits.Grouped(m.Sample)}, length {Digits.Grouped(m.Length)}");
        SameList("Comment", meant.Comments, found.Comments, c => $"{c.Name}: {c.Text}");
        SameList("Media", meant.Media, found.Media, m => $"{m.FileName}, {m.Rate}, {Digits.Grouped(m.Length)} samples, {m.Sha256}");
    }

    private void CompareTracks(Session meant, Session found)
    {
        var others = found.Tracks.ToDictionary(t => t.Id);
        foreach (var track in meant.Tracks)
        {
            if (!others.Remove(track.Id, out var other))
            {
                Same(track.Name, "track", "there", "missing");
                continue;
            }

            CompareTrack(track, other);
        }

        foreach (var extra in others.Values)
        {
            Same(extra.Name, "track", "not there", "there");
        }
    }

    private void CompareTrack(Track meant, Track found)
    {
        Same(meant.Name, "name", meant.Name, found.Name);
        Gain(meant.Name, "fader", (meant.FaderDb, meant.FaderAutomation), (found.FaderDb, found.FaderAutomation));
        var pansAgree = Math.Abs(meant.Pan - found.Pan) <= PanTolerance && Near(meant.PanAutomation, found.PanAutomation, PanTolerance);
        Same(meant.Name, "pan", Pan(meant.Pan, meant.PanAutomation), pansAgree ? Pan(meant.Pan, meant.PanAutomation) : Pan(found.Pan, found.PanAutomation), onlyFailures: true);
        if (meant with { Name = found.Name, Lanes = found.Lanes, Parts = found.Parts, FaderDb = found.FaderDb, FaderAutomation = found.FaderAutomation, Pan = found.Pan, PanAutomation = found.PanAutomation } != found)
        {
            Same(meant.Name, "mix settings", "as in the session", "others");
        }

        Samples(meant.Name, "lanes", meant.Lanes.Count, found.Lanes.Count, "lanes");
        for (var i = 0; i < Math.Min(meant.Lanes.Count, found.Lanes.Count); i++)
        {
            CompareLane(meant.Name, meant.Lanes[i], found.Lanes[i]);
        }

        var parts = found.Parts.ToDictionary(p => p.Id);
        foreach (var part in meant.Parts)
        {
            if (parts.TryGetValue(part.Id, out var other))
            {
                ComparePart($"{meant.Name}, {part.Name}", part, other);
            }
            else
            {
                Same(meant.Name, "part", part.Name, "missing");
            }
        }
    }

    private void CompareLane(string track, Lane meant, Lane found)
    {
        var others = found.Clips.ToDictionary(c => c.Id);
        foreach (var clip in meant.Clips)
        {
            var subject = $"{track}, {clip.Name}";
            if (!others.Remove(clip.Id, out var other))
            {
                Same(subject, "clip", "there", "missing");
                continue;
            }

            Samples(subject, "start", clip.Start, other.Start);
            Samples(subject, "length", clip.Length, other.Length);
            Samples(subject, "source from", clip.SourceOffset, other.SourceOffset);
            Fades(subject, "fade in", clip.FadeIn, other.FadeIn);
            Fades(subject, "fade out", clip.FadeOut, other.FadeOut);
            Gain(subject, "gain", (clip.GainDb, clip.GainCurve), (other.GainDb, other.GainCurve));
            Same(subject, "channels", string.Join(", ", clip.ChannelMap), string.Join(", ", other.ChannelMap), onlyFailures: true);
            Same(subject, "media", clip.Media, other.Media, onlyFailures: true);
            Same(subject, "muted", Yes(clip.Muted), Yes(other.Muted), onlyFailures: true);
        }

        foreach (var extra in others.Values)
        {
            Same($"{track}, {extra.Name}", "clip", "not there", "there");
        }
    }

    private void ComparePart(string subject, NotePart meant, NotePart found)
    {
        Same(subject, "place", $"quarter {meant.StartQuarter}, {meant.LengthQuarters} long", $"quarter {found.StartQuarter}, {found.LengthQuarters} long");
        Samples(subject, "notes", meant.Notes.Count, found.Notes.Count, "notes");
        if (meant.Notes != found.Notes && meant.Notes.Count == found.Notes.Count)
        {
            var i = Enumerable.Range(0, meant.Notes.Count).First(n => meant.Notes[n] != found.Notes[n]);
            Same(subject, $"note {i + 1}", meant.Notes[i].ToString(), found.Notes[i].ToString());
        }

        Samples(subject, "controllers", meant.Controls.Count, found.Controls.Count, "events");
        if (meant.Controls != found.Controls)
        {
            Same(subject, "controllers", "as in the session", "others");
        }
    }

    private void Fades(string subject, string what, Fade meant, Fade found)
    {
        if (meant.Length == 0 && found.Length == 0)
        {
            return;
        }

        _rows.Add(new ProofRow(
            subject, what, Words(meant), Words(found), Digits.Grouped(found.Length - meant.Length), meant == found));
        static string Words(Fade fade) => $"{Digits.Grouped(fade.Length)} {fade.Shape}";
    }

    /// <summary>A level and the points that move it: each on its sample, within a thousandth of a dB.</summary>
    private void Gain(string subject, string what, (double Db, Automation? Curve) meant, (double Db, Automation? Curve) found)
    {
        var difference = found.Db - meant.Db;
        _rows.Add(new ProofRow(
            subject, what, Words(meant), Words(found), difference.ToString("0.000", CultureInfo.InvariantCulture),
            Math.Abs(difference) <= GainTolerance && Near(meant.Curve, found.Curve, GainTolerance)));
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
            var a = i < meant.Count ? words(meant[i]) : "not there";
            var b = i < found.Count ? words(found[i]) : "missing";
            Same($"{subject} {i + 1}", "value", a, b);
        }
    }

    private static string Yes(bool value) => value ? "yes" : "no";
}
