using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Flags;

/// <summary>Looks a session over for what would go wrong if it were sent as it is.</summary>
/// <param name="sounds">Measured sound by media id.</param>
/// <param name="rates">Sound files whose header seems to say a wrong rate.</param>
/// <param name="saysTempo">Whether anybody said a tempo.</param>
/// <param name="tempo">What the sound's own tempo seems to be, where the map says one tempo only.</param>
public sealed class FlagFinder(Session session, IReadOnlyDictionary<string, MediaSound> sounds, TempoEstimate? tempo = null, IReadOnlyList<RateDoubt>? rates = null, bool saysTempo = true)
{
    private const int SecondsOfHandle = 1;
    private const int SecondsOfEmptyEnd = 20;
    private static readonly string[] s_worst = ["missing-media", "wrong-rate", "past-end", "other-rate", "before-bar-1", "other-tempo"];
    private readonly Dictionary<string, Media> _media = session.Media.ToDictionary(m => m.Id);

    /// <summary>Flags, the worst first.</summary>
    public IReadOnlyList<Flag> Flags() => MediaFlags()
        .Concat(session.Tracks.SelectMany(TrackFlags))
        .Concat(session.Tracks.SelectMany(new NoteFlags(session).Of))
        .Concat(TempoFlags())
        .Concat(HandleFlags())
        .Concat(NameFlags())
        .Concat(TimelineFlags())
        .OrderBy(f => f.Cost)
        .ThenBy(f => Array.IndexOf(s_worst, f.Code) is >= 0 and var place ? place : s_worst.Length)
        .ToList();

    private IEnumerable<Flag> MediaFlags()
    {
        foreach (var media in session.Media)
        {
            var use = session.Tracks.SelectMany(t => t.Lanes.SelectMany(l => l.Clips.Where(c => c.Media == media.Id).Select(c => (Track: t, Clip: c)))).ToList();
            if (use.Count == 0)
            {
                continue;
            }

            var (track, clip) = use[0];
            Flag At(string code, FlagCost cost, string title, string detail) => new(code, cost, title, detail, track.Id, clip.Id, clip.Start);
            if (media.Place == MediaPlace.Missing)
            {
                yield return At("missing-media", FlagCost.SoundLost, $"{Leaf(media)} is missing",
                    $"{Count(use.Count, "clip")} on {track.Name} would be silent; bring the file in at Intake");
            }
            else if (rates?.FirstOrDefault(r => r.Sound.MediaId == media.Id) is { } doubt)
            {
                yield return At("wrong-rate", FlagCost.SoundLost, $"{Leaf(media)} may be {RateFinder.Words(doubt.Likely)}, not {RateFinder.Words(media.Rate)}",
                    $"{string.Join("; ", doubt.Reasons)}. Say which at Intake");
            }
            else if (media.Rate != session.Rate)
            {
                var percent = Math.Abs((session.Rate.PerSecond / media.Rate.PerSecond).ToDouble() - 1) * 100;
                var way = session.Rate.PerSecond > media.Rate.PerSecond ? "fast" : "slow";
                yield return At("other-rate", FlagCost.SoundLost, $"{Leaf(media)} is {Digits.Grouped(media.Rate.HeaderHz)} Hz",
                    FormattableString.Invariant($"Unconverted it would play {percent:0.0} % {way}; the print converts it to {Digits.Grouped(session.Rate.HeaderHz)} Hz"));
            }

            if (!sounds.TryGetValue(media.Id, out var sound))
            {
                continue;
            }

            if (sound.IsMonoInStereo && media.Channels == 2)
            {
                yield return At("equal-channels", FlagCost.WorkThere, $"{Leaf(media)}: both channels are the same",
                    $"Difference {Decibels.Words(sound.SideDb!.Value)} dBFS; it can go as mono, by one press at Prepare");
            }

            if (sound.ClippedRuns > 0)
            {
                yield return At("clipped", FlagCost.SoundLost, $"{Leaf(media)} clips",
                    $"{Count(sound.ClippedRuns, "run")} of three or more samples at full scale");
            }
        }
    }

    private IEnumerable<Flag> TrackFlags(Track track)
    {
        var first = track.Sounding?.Clips.FirstOrDefault(c => !c.Muted)?.Start ?? 0;
        if (track.Inverted)
        {
            yield return new("inverted-track", FlagCost.WorkThere, $"{track.Name} has its polarity inverted in the mix", "A dry print has the polarity of the file, unless you invert it at Prepare", track.Id, null, first);
        }

        if (track.HasContent && track.State != TrackState.Active)
        {
            var word = track.State.Words();
            yield return new($"{word.Replace(' ', '-')}-track", FlagCost.SentUnmeant, $"{track.Name} is {word} and has {(track.Parts.Count > 0 ? "notes" : "sound")}",
                "It is held back unless you say otherwise at Prepare", track.Id, null, first);
        }

        foreach (var clip in track.Sounding?.Clips ?? [])
        {
            if (clip.HandleAfter(_media[clip.Media], session.Rate) is var after && after < 0 && _media[clip.Media].Place != MediaPlace.Missing)
            {
                yield return new("past-end", FlagCost.SoundLost, $"{clip.Name} on {track.Name} runs past its media",
                    $"By {Samples(-after)}; that stretch is silent", track.Id, clip.Id, clip.End + after);
            }
        }
    }

    private IEnumerable<Flag> TempoFlags()
    {
        if (!saysTempo && session.Tracks.Any(t => t.HasContent))
        {
            yield return new("no-tempo", FlagCost.WorkThere, "No source says a tempo",
                "Bars are counted at 120 in 4/4, and would be there; take it off a click at Intake, bring a MIDI file, or type or tap it in the map");
        }

        if (tempo is { Disagrees: true })
        {
            yield return new("other-tempo", FlagCost.WorkThere,
                FormattableString.Invariant($"The map says {session.Tempo.Points[0].QuartersPerMinute.ToDouble():0.##}, the sound about {tempo.QuartersPerMinute:0.##}"),
                FormattableString.Invariant($"Quarters a minute by the onsets, confidence {tempo.Confidence * 100:0} %, against {tempo.ConfidenceOfMap * 100:0} % for the map's; the grid may not fit the sound"));
        }
    }

    private IEnumerable<Flag> HandleFlags()
    {
        var wanted = session.Rate.SamplesIn(SecondsOfHandle).RoundToEven();
        var print = session.Tracks.Where(t => t.Kind == TrackKind.Audio && t.State == TrackState.Active).SelectMany(
            t => (t.Sounding?.Clips ?? []).Select(c => (Track: t, Clip: c, Media: _media[c.Media])));

        // A clip that shows its whole file has nothing trimmed off, so a short handle there is not a loss of the edit.
        var found = print.Where(p => !p.Clip.Muted && p.Media.Place != MediaPlace.Missing && Trimmed(p.Clip, p.Media)
            && (p.Clip.HandleBefore(p.Media, session.Rate) < wanted || p.Clip.HandleAfter(p.Media, session.Rate) is >= 0 and var after && after < wanted));
        foreach (var (track, clip, media) in found)
        {
            yield return new("short-handle", FlagCost.WorkThere, $"{clip.Name} on {track.Name} lacks a {SecondsOfHandle} s handle",
                $"It has {Samples(clip.HandleBefore(media, session.Rate))} before and {Samples(Math.Max(0, clip.HandleAfter(media, session.Rate)))} after",
                track.Id, clip.Id, clip.Start);
        }
    }

    private bool Trimmed(Clip clip, Media media) =>
        clip.HandleBefore(media, session.Rate) > 0 && clip.HandleAfter(media, session.Rate) > 0;

    private IEnumerable<Flag> NameFlags()
    {
        foreach (var same in session.Tracks.Where(t => !t.Kind.HasRole()).GroupBy(t => t.Name, SameName.Comparer).Where(g => g.Count() > 1))
        {
            yield return new("same-name", FlagCost.WorkThere, $"{Count(same.Count(), "track")} are called {same.Key}",
                "The delivered names are told apart by number", same.First().Id);
        }

        foreach (var track in session.Tracks.Where(t => LegalName.IsRefusedSomewhere(t.Name)))
        {
            yield return new("refused-name", FlagCost.WorkThere, $"Some systems refuse the name {track.Name}",
                $"It goes as {LegalName.From(track.Name)}", track.Id);
        }
    }

    private IEnumerable<Flag> TimelineFlags()
    {
        var going = session.Tracks.Where(t => t.State == TrackState.Active).ToList();
        var first = going.SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.Start)
            .Concat(going.SelectMany(t => t.Parts).Where(p => p.Notes.Count > 0).Select(p => session.Clock.SampleAt(p.StartQuarter)))
            .DefaultIfEmpty(session.Bar1Sample).Min();
        if (first < session.Bar1Sample)
        {
            yield return new("before-bar-1", FlagCost.SoundLost, "There is music before bar 1",
                $"{Samples(session.Bar1Sample - first)}; a range from bar 1 would cut it", null, null, first);
        }

        var lastSound = going.SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.End).DefaultIfEmpty(0).Max();
        var lastMarker = session.Markers.Select(m => m.Sample + m.Length).DefaultIfEmpty(0).Max();
        if (lastMarker - lastSound > session.Rate.SamplesIn(SecondsOfEmptyEnd).RoundToEven())
        {
            yield return new("empty-end", FlagCost.WorkThere, "The end lies far after the last sound",
                $"{Samples(lastMarker - lastSound)} of nothing; the range ends at the last sound and its tail", null, null, lastSound);
        }
    }

    private static string Leaf(Media media) => media.FileName[(media.FileName.LastIndexOf('/') + 1)..];

    private static string Count(int count, string thing) => count == 1 ? $"1 {thing}" : $"{count} {thing}s";

    private static string Samples(long samples) => $"{Digits.Grouped(samples)} samples";
}
