using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Arriving;

/// <summary>
/// What became of a session at the other side: clip by clip in samples, what all have in common said once. Names, order, identifiers and units may all be others there.
/// </summary>
public sealed class ArrivalComparison
{
    /// <summary>What stands for a clip that is missing.</summary>
    public const string NotThere = "not there";

    /// <summary>What becomes of what is not there.</summary>
    internal const string Missing = "missing";

    // Gains are told apart from here on; what programs show has hundredths.
    private const double GainBound = 0.005;
    private const double PanBound = 0.005;
    private static readonly Session s_none = new() { Name = string.Empty };
    private readonly Session _sent;
    private readonly Session _found;
    private readonly ArrivalPairs _pairs;

    // Media whose sound is not that of the medium that they are taken for.
    private readonly List<string> _others;
    private readonly List<string> _changed;
    private readonly SentSession _ours;
    private readonly ArrivalSide _theirs;
    private readonly ArrivalFindings _findings = new();
    private long _unit = 1;

    private ArrivalComparison(SentSession sent, ArrivalSide found, SoundOrigins origins)
    {
        (_ours, _theirs, _found) = (sent, found, found.Clips ?? s_none);
        var known = ArrivalOrigins.Of(sent.Session, _found, origins.Known);
        _sent = found.Clips is null ? s_none : sent.BroughtIn(known.Values.Select(k => k.Media).ToHashSet());
        _others = [.. _found.Media.Where(m => known.TryGetValue(m.Id, out var origin) && origins.Differs(m.Id, origin)).Select(m => m.ShortName)];
        _changed = [.. _found.Media.Where(m => known.GetValueOrDefault(m.Id) is { IsChanged: true }).Select(m => m.ShortName)];
        _pairs = ArrivalPairs.Of([.. Clips(_sent, null)], [.. Clips(_found, known)]);
    }

    /// <param name="sent">What was sent, as it lies in the package.</param>
    /// <param name="found">What the other side has.</param>
    /// <param name="origins">What sound says of where media of the other side come from.</param>
    public static ArrivalReport Compare(SentSession sent, ArrivalSide found, SoundOrigins origins) => new ArrivalComparison(sent, found, origins).Compare();

    private IEnumerable<ArrivalClip> Clips(Session session, IReadOnlyDictionary<string, FoundOrigin>? known)
    {
        var (media, ours) = (session.Media.ToDictionary(m => m.Id), _sent.Media.ToDictionary(m => m.Id));
        foreach (var track in session.Tracks.Where(t => t.Kind == TrackKind.Audio))
        {
            // What is muted is in no file of sound.
            foreach (var clip in (track.Sounding?.Clips ?? []).Where(c => _theirs.IsEdit || !c.Muted))
            {
                var origin = known is null ? new FoundOrigin(clip.Media, 0, ArrivalBasis.Sound) : known.GetValueOrDefault(clip.Media);
                var (start, end) = (session.Rate.Convert(clip.Start, _sent.Rate), session.Rate.Convert(clip.End, _sent.Rate));
                var source = origin is null ? 0 : origin.Offset + media[clip.Media].Rate.Convert(clip.SourceOffset, ours[origin.Media].Rate);
                if (origin is not null && !_theirs.IsEdit)
                {
                    // A file of sound has no place in its sound: what is cut off at its head, or stands before it, moves all of it.
                    start -= ours[origin.Media].Rate.Convert(origin.Offset, _sent.Rate);
                    source -= origin.Offset;
                }

                yield return new ArrivalClip(track, clip, origin?.Media, origin?.Basis ?? ArrivalBasis.Unsure) { Start = start, Length = end - start, Source = source };
            }
        }
    }

    private ArrivalReport Compare()
    {
        var dots = _theirs.Clips is null ? [] : Clips();
        if (_theirs.Clips is null)
        {
            _findings.Without("clips: neither clips nor sound came");
        }

        Music();
        return new ArrivalReport(
            _findings.Causes, _findings.Rows, dots, [.. _pairs.Added.Select(c => c.Name)], _pairs.All.GroupBy(p => p.Basis).ToDictionary(g => g.Key, g => g.Count()), _findings.NotCompared, _theirs.Clips is not null, _ours.Music is not null && _theirs.Music is not null);
    }

    private List<ArrivalDot> Clips()
    {
        Facts();
        var shift = Starts();
        var dots = _pairs.All.Select(pair => Clip(pair, shift)).ToList();
        foreach (var clip in _pairs.Missing)
        {
            _findings.Row(clip.Name, "whole clip", Digits.Grouped(clip.Start), NotThere, Missing);
            dots.Add(new ArrivalDot(clip.Name, clip.Start, null, false));
        }

        if (_theirs.IsEdit)
        {
            Gains();
            Fades();
            Names();
        }

        var tracks = Tracks();
        if (_theirs.IsEdit)
        {
            new ArrivalRides(_sent.Rate, _found.Rate, _findings).Compare(_pairs.All, tracks, shift);
        }
        else if (_sent.Tracks.Any(t => !_ours.IsFile(t)))
        {
            _findings.Without("gains, fades, pans and rides: in files of sound they are part of it");
        }

        Markers(shift);
        return [.. dots.OrderBy(d => d.Start)];
    }

    private void Music()
    {
        if (_ours.Music is not { } ours)
        {
            if (_theirs.Music is not null)
            {
                _findings.Without("tempo, meters and notes: no MIDI was sent");
            }

            return;
        }

        if (_theirs.Music is not { } theirs)
        {
            _findings.Without("tempo, meters and notes: no MIDI came");
            return;
        }

        var notes = ArrivalNotes.Compare(ours, theirs, _findings);
        new ArrivalMap(ours, theirs, notes.Count > 0 ? notes.Shift : 0, _findings).Compare();
    }

    private void Facts()
    {
        if (_others.Count > 0)
        {
            _findings.Common($"The sound of {Phrases.First(_others)} is another than was sent.");
        }

        if (_changed.Count > 0)
        {
            _findings.Common($"The sound of {Phrases.First(_changed)} was changed: it is known again, and not all of it is what was sent.");
        }

        if (_found.Rate != _sent.Rate)
        {
            _findings.Common($"The session there is at {_found.Rate.Words}, and {_sent.Rate.Words} was sent: places are compared in samples of what was sent.");
        }

        if (_theirs.IsEdit && _found.Start.Frames / _found.Start.Rate.PerSecond != _sent.Start.Frames / _sent.Start.Rate.PerSecond)
        {
            _findings.Common($"The start there is {_found.Start}, and {_sent.Start} was sent: set the start, do not move the clips.");
        }
    }

    /// <summary>What all starts have in common: a shift, or frames that they were rounded to.</summary>
    private long Starts()
    {
        var starts = _pairs.All.Where(p => p.Basis != ArrivalBasis.Unsure).Select(p => (Sent: p.Sent.Start, Found: p.Found.Start)).ToList();
        var frame = _sent.Rate.PerSecond / _sent.FrameRate.PerSecond;
        if (starts.Count > 1 && frame.Denominator == 1 && (long)frame.Numerator is var unit && starts.Exists(s => s.Found != s.Sent)
            && starts.TrueForAll(s => s.Found % unit == 0 && Math.Abs(s.Found - s.Sent) < unit) && starts.Exists(s => s.Sent % unit != 0))
        {
            _unit = unit;
            _findings.Common($"All places are rounded to frames of {Digits.Grouped(unit)} samples.");
            return 0;
        }

        var shift = _pairs.Shift;
        if (shift != 0 && 2 * starts.Count(s => s.Found - s.Sent == shift) >= starts.Count)
        {
            _findings.Common($"Everything is {Digits.Grouped(Math.Abs(shift))} samples {(shift > 0 ? "late" : "early")}.");
            return shift;
        }

        return 0;
    }

    private ArrivalDot Clip(ArrivalPair pair, long shift)
    {
        var (sent, found) = (pair.Sent, pair.Found);
        var offset = found.Start - shift - sent.Start;
        var rounded = _unit > 1 && Math.Abs(offset) < _unit;
        var slip = found.Media is null ? 0 : found.Source - sent.Source;

        // Whose beginning was cut or drawn out has its start and its place in the sound moved alike.
        var trimmed = slip == offset && slip != 0 && found.Length - sent.Length == -offset;
        if (offset != 0 && !rounded)
        {
            Row(pair, trimmed ? "start, cut or drawn out" : "start", Digits.Grouped(sent.Start), Digits.Grouped(found.Start), Signed(offset));
        }

        // A file of sound that runs on has lost nothing.
        if (found.Length != sent.Length && !trimmed && (_theirs.IsEdit || found.Length < sent.Length) && !(_unit > 1 && Math.Abs(found.Length - sent.Length) < _unit))
        {
            Row(pair, "length", Digits.Grouped(sent.Length), Digits.Grouped(found.Length), Signed(found.Length - sent.Length));
        }

        if (slip != 0 && !trimmed && !(rounded && Math.Abs(slip) < _unit))
        {
            Row(pair, "place in its sound", Digits.Grouped(sent.Source), Digits.Grouped(found.Source), Signed(slip));
        }

        if (found.Clip.Muted != sent.Clip.Muted)
        {
            Row(pair, "mute", sent.Clip.Muted ? "muted" : "sounds", found.Clip.Muted ? "muted" : "sounds", "–");
        }

        return new ArrivalDot(sent.Name, sent.Start, rounded ? 0 : offset, slip != 0 && !trimmed && !rounded);
    }

    private void Gains()
    {
        var moved = _pairs.All.Where(p => Math.Abs(p.Found.Clip.GainDb - p.Sent.Clip.GainDb) > GainBound).ToList();
        var all = _pairs.All.Where(p => p.Sent.Clip.GainDb != 0).ToList();
        if (moved.Count > 1 && moved.Count == all.Count && moved.TrueForAll(p => p.Found.Clip.GainDb == 0))
        {
            _findings.Common($"No clip gain came: {Phrases.Count(moved.Count, "clip")} play at unity.");
        }
        else if (moved.Count > 1 && moved.TrueForAll(p => Math.Abs(p.Found.Clip.GainDb - Math.Round(p.Sent.Clip.GainDb, 1)) < GainBound))
        {
            _findings.Common($"Clip gains are rounded to tenths of a dB on {Phrases.Count(moved.Count, "clip")}.");
        }
        else
        {
            moved.ForEach(p => Row(p, "gain", Db(p.Sent.Clip.GainDb), Db(p.Found.Clip.GainDb), $"{(p.Found.Clip.GainDb > p.Sent.Clip.GainDb ? "+" : string.Empty)}{Db(p.Found.Clip.GainDb - p.Sent.Clip.GainDb)}"));
        }
    }

    private void Fades()
    {
        var sent = _pairs.All.Where(p => p.Sent.Clip.FadeIn.Length > 0 || p.Sent.Clip.FadeOut.Length > 0).ToList();
        if (sent.Count > 1 && sent.TrueForAll(p => p.Found.Clip.FadeIn.Length == 0 && p.Found.Clip.FadeOut.Length == 0))
        {
            _findings.Common($"No fade came: {Phrases.Count(sent.Count, "clip")} begin or end hard.");
            return;
        }

        foreach (var pair in _pairs.All)
        {
            Fade(pair, "fade in", pair.Sent.Clip.FadeIn, pair.Found.Clip.FadeIn);
            Fade(pair, "fade out", pair.Sent.Clip.FadeOut, pair.Found.Clip.FadeOut);
        }
    }

    private void Fade(ArrivalPair pair, string what, Fade sent, Fade found)
    {
        var length = _found.Rate.Convert(found.Length, _sent.Rate);
        if (length != sent.Length || (sent.Length > 0 && sent.Shape != found.Shape))
        {
            Row(pair, what, Words(sent.Length, sent.Shape), Words(length, found.Shape), length == sent.Length ? "another shape" : Signed(length - sent.Length));
        }

        static string Words(long length, FadeShape shape) => length == 0 ? "none" : $"{Digits.Grouped(length)} {shape}";
    }

    private void Names()
    {
        var other = _pairs.All.Where(p => p.Found.Clip.Name != p.Sent.Clip.Name).ToList();
        if (other.Count == 0)
        {
            return;
        }

        var most = other.Max(p => p.Found.Clip.Name.Length);
        _findings.Common(other.TrueForAll(p => p.Sent.Clip.Name.StartsWith(p.Found.Clip.Name, StringComparison.Ordinal)) && most < other.Max(p => p.Sent.Clip.Name.Length)
            ? $"Names are cut to {most} characters on {Phrases.Count(other.Count, "clip")}."
            : $"{Phrases.Count(other.Count, "clip")} {(other.Count == 1 ? "has another name" : "have other names")}, such as {other[0].Found.Clip.Name} for {other[0].Sent.Clip.Name}.");
    }

    // A track is the one that most of its clips lie on.
    private List<(Track Sent, Track Found)> Tracks()
    {
        var tracks = _pairs.All.GroupBy(p => p.Sent.Track.Id).Select(g => (Sent: g.First().Sent.Track, Found: g.GroupBy(p => p.Found.Track.Id).MaxBy(f => f.Count())!.First().Found.Track, Pairs: g.ToList())).ToList();
        var centred = tracks.Where(t => Math.Abs(t.Sent.Pan) > PanBound && Math.Abs(t.Found.Pan) <= PanBound).ToList();
        var panned = tracks.Count(t => Math.Abs(t.Sent.Pan) > PanBound);
        if (_theirs.IsEdit && centred.Count > 1 && centred.Count == panned)
        {
            _findings.Common($"Pan came in the centre on {Phrases.Count(centred.Count, "track")}: set {Phrases.First([.. centred.Select(t => $"{t.Found.Name} to {TrackSettings.Pan(t.Sent.Pan)}")])}.");
        }

        foreach (var (sent, found, pairs) in tracks)
        {
            if (_theirs.IsEdit && Math.Abs(sent.Pan - found.Pan) > PanBound && !(centred.Count > 1 && centred.Count == panned))
            {
                _findings.Row(sent.Name, "pan", TrackSettings.Pan(sent.Pan), TrackSettings.Pan(found.Pan), "–");
            }

            if (sent.Channels != found.Channels)
            {
                _findings.Row(sent.Name, "channels", Phrases.Channels(sent.Channels), Phrases.Channels(found.Channels), "–");
            }

            foreach (var pair in pairs.Where(p => p.Found.Track.Id != found.Id))
            {
                Row(pair, "track", sent.Name, pair.Found.Track.Name, "on another track");
            }
        }

        var renamed = tracks.Count(t => t.Sent.Name != t.Found.Name);
        if (renamed > 0)
        {
            _findings.Common($"{Phrases.Count(renamed, "track")} {(renamed == 1 ? "has another name" : "have other names")}.");
        }

        return [.. tracks.Select(t => (t.Sent, t.Found))];
    }

    private void Markers(long shift)
    {
        if (_sent.Markers.Count == 0 || _found.Markers.Count == 0)
        {
            return;
        }

        var theirs = _found.Markers.GroupBy(m => m.Text).ToDictionary(g => g.Key, g => g.ToList());
        foreach (var marker in _sent.Markers)
        {
            if (!theirs.TryGetValue(marker.Text, out var same))
            {
                _findings.Row(marker.Text, "marker", Digits.Grouped(marker.Sample), NotThere, Missing);
            }
            else if (same.Select(m => _found.Rate.Convert(m.Sample, _sent.Rate)).MinBy(s => Math.Abs(s - shift - marker.Sample)) is var at && at - shift != marker.Sample && !(_unit > 1 && Math.Abs(at - marker.Sample) < _unit))
            {
                _findings.Row(marker.Text, "marker", Digits.Grouped(marker.Sample), Digits.Grouped(at), Signed(at - shift - marker.Sample));
            }
        }
    }

    private void Row(ArrivalPair pair, string what, string sent, string found, string difference) => _findings.Row(pair, what, sent, found, difference);

    private static string Signed(long samples) => ArrivalFindings.Signed(samples);

    private static string Db(double gain) => $"{Decibels.Words(gain, 2)} dB";
}
