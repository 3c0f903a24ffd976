using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Flags;

/// <summary>Looks a session over for what would go wrong if it were sent as it is prepared.</summary>
/// <param name="facts">All that is known of it.</param>
public sealed class FlagFinder(FlagFacts facts)
{
    private const int SecondsOfEmptyEnd = 20;
    private readonly Session _session = facts.Session;
    private readonly PreparedFlags _prepared = new(facts.Session, facts.Preparation);
    private readonly Dictionary<string, Media> _media = facts.Session.Media.ToDictionary(m => m.Id);

    /// <summary>Flags, in the order of the session for each kind.</summary>
    public IReadOnlyList<Flag> Flags() => MediaFlags()
        .Concat(_session.Tracks.SelectMany(TrackFlags))
        .Concat(_prepared.All())
        .Concat(new SheetFlags(facts).All())
        .Concat(new EditFlags(facts).All())
        .Concat(new FaultFlags(facts).All())
        .Concat(_session.Tracks.SelectMany(new NoteFlags(_session).Of))
        .Concat(PictureFlags())
        .Concat(TempoFlags())
        .Concat(HandleFlags())
        .Concat(NameFlags())
        .Concat(TimelineFlags())
        .ToList();

    private IEnumerable<Flag> MediaFlags()
    {
        foreach (var media in _session.Media)
        {
            var use = _session.Tracks.SelectMany(t => t.Lanes.SelectMany(l => l.Clips.Where(c => c.Media == media.Id).Select(c => (Track: t, Clip: c)))).ToList();
            if (use.Count == 0 || media.Place == MediaPlace.Unsent)
            {
                continue;
            }

            var (track, clip) = use[0];
            Flag At(FlagKind kind, string title, string detail) => new(kind, title, detail, track.Id, clip.Id, clip.Start);
            if (media.IsAbsent)
            {
                yield return At(FlagKinds.MissingMedia, $"{media.ShortName} is missing",
                    $"{Count(use.Count, "clip")} on {track.Name} would be silent; bring the file in at Intake");
            }
            else if (facts.Rates.FirstOrDefault(r => r.Sound.MediaId == media.Id) is { } doubt)
            {
                yield return At(FlagKinds.WrongRate, $"{media.ShortName} may be {RateFinder.Words(doubt.Likely)}, not {RateFinder.Words(media.Rate)}",
                    $"{string.Join("; ", doubt.Reasons)}. Say which at Intake");
            }
            else if (media.Rate != _session.Rate)
            {
                var percent = Math.Abs((_session.Rate.PerSecond / media.Rate.PerSecond).ToDouble() - 1) * 100;
                var way = _session.Rate.PerSecond > media.Rate.PerSecond ? "fast" : "slow";
                yield return At(FlagKinds.OtherRate, $"{media.ShortName} is {Digits.Grouped(media.Rate.HeaderHz)} Hz",
                    FormattableString.Invariant($"Unconverted it would play {percent:0.0} % {way}; the print converts it to {Digits.Grouped(_session.Rate.HeaderHz)} Hz"));
            }

            if (facts.Lossy.Contains(media.Id))
            {
                yield return At(FlagKinds.Lossy, $"{media.ShortName} was coded with loss", "Fit for listening, not for going on; ask for the file that it was made from");
            }

            if (!facts.Sounds.TryGetValue(media.Id, out var sound))
            {
                continue;
            }

            if (sound.IsMonoInStereo && media.Channels == 2 && use.Any(u => _prepared.GoesAsStereo(u.Track.Id)))
            {
                yield return At(FlagKinds.EqualChannels, $"{media.ShortName}: both channels are the same",
                    $"Difference {Decibels.Words(sound.SideDb!.Value)} dBFS; it can go as mono, by one press at Prepare");
            }

            if (sound.ClippedRuns > 0)
            {
                yield return At(FlagKinds.Clipped, $"{media.ShortName} clips",
                    $"{Count(sound.ClippedRuns, "run")} of three or more samples at full scale");
            }
        }
    }

    private IEnumerable<Flag> TrackFlags(Track track)
    {
        var first = track.Sounding?.Clips.FirstOrDefault(c => !c.Muted)?.Start ?? 0;
        if (track.Inverted && _prepared.GoesDry(track.Id) && !_prepared.GoesInverted(track.Id))
        {
            yield return new(FlagKinds.Inverted, $"{track.Name} has its polarity inverted in the mix", "A dry print has the polarity of the file, unless you invert it at Prepare", track.Id, null, first);
        }

        if (track.HasContent && track.State != TrackState.Active && !_prepared.Goes(track.Id))
        {
            var word = track.State.Words();
            var kind = track.State == TrackState.Hidden ? FlagKinds.HiddenTrack : track.State == TrackState.Muted ? FlagKinds.MutedTrack : FlagKinds.SwitchedOffTrack;
            yield return new(kind, $"{track.Name} is {word} and has {(track.Parts.Count > 0 ? "notes" : "sound")}",
                "It is held back unless you say otherwise at Prepare", track.Id, null, first);
        }

        foreach (var clip in track.Sounding?.Clips ?? [])
        {
            if (clip.HandleAfter(_media[clip.Media], _session.Rate) is var after && after < 0 && !_media[clip.Media].IsAbsent)
            {
                yield return new(FlagKinds.PastEnd, $"{clip.Name} on {track.Name} runs past its media",
                    $"By {Samples(-after)}; that stretch is silent", track.Id, clip.Id, clip.End + after);
            }
        }
    }

    private IEnumerable<Flag> TempoFlags()
    {
        if (!facts.SaysTempo && _session.Tracks.Any(t => t.HasContent))
        {
            yield return new(FlagKinds.NoTempo, "No source says a tempo",
                "Bars are counted at 120 in 4/4, and would be there; take it off a click at Intake, bring a MIDI file, or type or tap it in the map");
        }

        if (facts.Tempo is { Disagrees: true } tempo)
        {
            yield return new(FlagKinds.OtherTempo,
                FormattableString.Invariant($"The map says {_session.Tempo.Points[0].QuartersPerMinute.ToDouble():0.##}, the sound about {tempo.QuartersPerMinute:0.##}"),
                FormattableString.Invariant($"Quarters a minute by the onsets, confidence {tempo.Confidence * 100:0} %, against {tempo.ConfidenceOfMap * 100:0} % for the map's; the grid may not fit the sound"));
        }
    }

    private IEnumerable<Flag> PictureFlags()
    {
        if (_session.Picture is not { IsThere: true } picture)
        {
            yield break;
        }

        if (picture.SoundChannels > 0)
        {
            var goes = facts.Preparation.Picture.Extent != PictureExtent.None;
            yield return new(FlagKinds.PictureSound, $"{picture.ShortName} has {Phrases.Count(picture.SoundChannels, "channel")} of sound", goes ? "What goes of it is without; who has the picture already still has it" : "Let the picture go without it, or tell the receiver what it is", null, null, 0);
        }

        if (picture.FramesPerSecond is { } frames && frames != _session.FrameRate.PerSecond)
        {
            yield return new(FlagKinds.PictureFrames, FormattableString.Invariant($"{picture.ShortName} runs at {frames.ToDouble():0.###} frames a second, the session at {_session.FrameRate.Name}"), "Say at Intake which of both it is", null, null, 0);
        }
    }

    private IEnumerable<Flag> HandleFlags()
    {
        var clips = facts.Preparation.Clips;
        var wanted = clips.WantedHandle(_session.Rate, _session.FrameRate);
        var print = _session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(
            t => (t.Sounding?.Clips ?? []).Select(c => (Track: t, Clip: c, Media: _media[c.Media])));

        // A clip that shows its whole file has nothing trimmed off, so a short handle there is not a loss of the edit.
        var found = print.Where(p => !p.Clip.Muted && !p.Media.IsAbsent && Trimmed(p.Clip, p.Media)
            && (p.Clip.HandleBefore(p.Media, _session.Rate) < wanted || p.Clip.HandleAfter(p.Media, _session.Rate) is >= 0 and var after && after < wanted));
        foreach (var (track, clip, media) in found)
        {
            yield return new(FlagKinds.ShortHandle, $"{clip.Name} on {track.Name} lacks a handle of {clips.Handle} {Choices.HandleUnits[clips.HandleUnit].Words}",
                $"It has {Samples(clip.HandleBefore(media, _session.Rate))} before and {Samples(Math.Max(0, clip.HandleAfter(media, _session.Rate)))} after",
                track.Id, clip.Id, clip.Start);
        }
    }

    private bool Trimmed(Clip clip, Media media) =>
        clip.HandleBefore(media, _session.Rate) > 0 && clip.HandleAfter(media, _session.Rate) > 0;

    private IEnumerable<Flag> NameFlags()
    {
        foreach (var same in _session.Tracks.Where(t => !t.Kind.HasRole()).GroupBy(t => t.Name, SameName.Comparer).Where(g => g.Count() > 1))
        {
            yield return new(FlagKinds.SameName, $"{Count(same.Count(), "track")} are called {same.Key}",
                "The delivered names are told apart by number", same.First().Id);
        }

        foreach (var track in _session.Tracks.Where(t => LegalName.IsRefusedSomewhere(t.Name)))
        {
            yield return new(FlagKinds.RefusedName, $"Some systems refuse the name {track.Name}",
                $"It goes as {LegalName.From(track.Name)}", track.Id);
        }
    }

    private IEnumerable<Flag> TimelineFlags()
    {
        var going = _session.Tracks.Where(t => t.State == TrackState.Active).ToList();
        var first = going.SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.Start)
            .Concat(going.SelectMany(t => t.Parts).Where(p => p.Notes.Count > 0).Select(p => _session.Clock.SampleAt(p.StartQuarter)))
            .DefaultIfEmpty(_session.Bar1Sample).Min();
        if (first < _session.Bar1Sample)
        {
            yield return new(FlagKinds.BeforeBar1, "There is music before bar 1",
                $"{Samples(_session.Bar1Sample - first)}; a range from bar 1 would cut it", null, null, first);
        }

        foreach (var marker in _session.Markers.Where(m => m.Length > 0 && facts.Preparation.Markers == MarkersForm.All))
        {
            yield return new(FlagKinds.Sections, $"{marker.Text} is a section and goes as a point", $"{Samples(marker.Length)} long; the session document has its length", null, null, marker.Sample);
        }

        var lastSound = going.SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.End).DefaultIfEmpty(0).Max();
        var lastMarker = _session.Markers.Select(m => m.Sample + m.Length).DefaultIfEmpty(0).Max();
        if (lastMarker - lastSound > _session.Rate.SamplesIn(SecondsOfEmptyEnd).RoundToEven())
        {
            yield return new(FlagKinds.EmptyEnd, "The end lies far after the last sound",
                $"{Samples(lastMarker - lastSound)} of nothing; the range ends at the last sound and its tail", null, null, lastSound);
        }
    }

    private static string Count(int count, string thing) => count == 1 ? $"1 {thing}" : $"{count} {thing}s";

    private static string Samples(long samples) => $"{Digits.Grouped(samples)} samples";
}
