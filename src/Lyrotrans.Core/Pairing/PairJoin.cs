using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Pairing;

/// <summary>Makes one track of several mono ones, and mono tracks of one.</summary>
public static class PairJoin
{
    /// <summary>Why tracks cannot be joined as they are; null where they can.</summary>
    public static string? Hindrance(Session session, IReadOnlyList<Track> tracks)
    {
        tracks = Here(session, tracks);
        var media = session.Media.ToDictionary(m => m.Id);
        var first = tracks[0];
        foreach (var other in tracks.Skip(1))
        {
            if (first.Lanes.Count != other.Lanes.Count || first.Lanes.Zip(other.Lanes).Any(l => !Edits(l.First).SequenceEqual(Edits(l.Second))))
            {
                return "their edits differ";
            }

            if (first.FaderDb != other.FaderDb || !Equals(first.FaderAutomation, other.FaderAutomation))
            {
                return "their faders differ";
            }

            foreach (var (a, b) in first.Lanes.SelectMany(l => l.Clips).Zip(other.Lanes.SelectMany(l => l.Clips)))
            {
                var (one, two) = (media[a.Media], media[b.Media]);
                if (one.Id != two.Id && (one.Rate, one.Encoding) != (two.Rate, two.Encoding))
                {
                    return $"{one.FileName} and {two.FileName} differ in rate or depth";
                }

                if (one.Id != two.Id && (one.IsAbsent || two.IsAbsent || one.Sha256 is null || two.Sha256 is null))
                {
                    return "their media are not here yet";
                }
            }
        }

        return null;
    }

    /// <summary>The files that joining them needs as one, each set once.</summary>
    /// <param name="session">Of the tracks.</param>
    /// <param name="tracks">Mono tracks, first channel first.</param>
    public static IReadOnlyList<ValueArray<(string Media, int Channel)>> Needs(Session session, IReadOnlyList<Track> tracks) =>
        [.. Sets(Here(session, tracks)).Where(s => s.Select(m => m.Media).Distinct().Count() > 1).Distinct()];

    /// <param name="session">Of the tracks.</param>
    /// <param name="ids">Mono tracks, first channel first.</param>
    /// <param name="name">Of the joined track.</param>
    /// <param name="joined">The medium that holds the channels of several, for each of <see cref="Needs"/>; null where it is not made.</param>
    /// <returns>The session with one track in the first one's place, or null where they cannot be joined.</returns>
    public static Session? Join(Session session, IReadOnlyList<string> ids, string name, Func<ValueArray<(string Media, int Channel)>, Media?> joined)
    {
        var tracks = ids.Select(id => session.Tracks.FirstOrDefault(t => t.Id == id)).OfType<Track>().ToList();
        if (tracks.Count != ids.Count || tracks.Count < 2 || tracks.Any(t => t.Channels != 1) || Hindrance(session, tracks) is not null)
        {
            return null;
        }

        tracks = [.. Here(session, tracks)];
        var made = new List<Media>();
        var lanes = new List<Lane>();
        for (var l = 0; l < tracks[0].Lanes.Count; l++)
        {
            var clips = new List<Clip>();
            for (var c = 0; c < tracks[0].Lanes[l].Clips.Count; c++)
            {
                var set = tracks.Select(t => (t.Lanes[l].Clips[c].Media, t.Lanes[l].Clips[c].ChannelMap[0])).ToValueArray();
                var one = set.All(s => s.Media == set[0].Media);
                var medium = one ? null : joined(set);
                if (!one && medium is null)
                {
                    return null;
                }

                made.AddRange(medium is null ? [] : [medium]);
                clips.Add(tracks[0].Lanes[l].Clips[c] with
                {
                    Media = medium?.Id ?? set[0].Media,
                    ChannelMap = medium is null ? set.Select(s => s.Item2).ToValueArray() : Enumerable.Range(0, set.Count).ToValueArray(),
                });
            }

            lanes.Add(tracks[0].Lanes[l] with { Clips = clips.ToValueArray() });
        }

        var whole = tracks[0] with { Name = name, Channels = tracks.Count, Pan = 0, PanAutomation = null, Lanes = lanes.ToValueArray() };
        var gone = ids.Skip(1).ToHashSet();
        var kept = session.Tracks.Where(t => !gone.Contains(t.Id)).Select(t => t.Id == whole.Id ? whole : t).ToValueArray();
        var used = kept.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        return session with
        {
            Tracks = kept,
            Media = session.Media.Concat(made).DistinctBy(m => m.Id).Where(m => used.Contains(m.Id)).ToValueArray(),
        };
    }

    /// <summary>A track of several channels as so many mono tracks over the same files.</summary>
    /// <returns>Null where there is no such track.</returns>
    public static Session? Split(Session session, string id) => Find(session, id) is { } track
        ? Split(session, id, [.. Enumerable.Range(0, track.Channels).Select(c => new ChannelGroup(
            track.Channels == 2 ? $"{track.Name}.{(c == 0 ? 'L' : 'R')}" : FormattableString.Invariant($"{track.Name}.{c + 1}"), [c]))])
        : null;

    /// <summary>A track of several channels as tracks of some of them each, over the same files.</summary>
    /// <param name="session">Of the track.</param>
    /// <param name="id">Its identifier, which the first of the new ones keeps.</param>
    /// <param name="groups">What it becomes: every channel in one of them and in one only.</param>
    /// <returns>Null where there is no such track, or a channel would be lost or come twice.</returns>
    public static Session? Split(Session session, string id, IReadOnlyList<ChannelGroup> groups)
    {
        if (Find(session, id) is not { } track || groups.Any(g => g.Channels.Count == 0) || !groups.SelectMany(g => g.Channels).Order().SequenceEqual(Enumerable.Range(0, track.Channels)))
        {
            return null;
        }

        var parts = groups.Select((group, i) => track with
        {
            Id = i == 0 ? track.Id : Numbered(track.Id, group),
            Name = group.Name,
            Channels = group.Channels.Count,
            Pan = track.Channels == 2 && groups.Count == 2 ? (group.Channels[0] * 2) - 1 : 0,
            PanAutomation = null,
            Lanes = track.Lanes.Select(l => l with
            {
                Clips = l.Clips.Select(clip => clip with { Id = i == 0 ? clip.Id : Numbered(clip.Id, group), ChannelMap = group.Channels.Select(c => clip.ChannelMap[c]).ToValueArray() }).ToValueArray(),
            }).ToValueArray(),
        });
        return session with { Tracks = session.Tracks.SelectMany(t => t.Id == id ? parts : [t]).ToValueArray() };
    }

    // Without the record of what prints that came along were made of: of that nothing is here to be joined.
    private static IReadOnlyList<Track> Here(Session session, IReadOnlyList<Track> tracks) => [.. tracks.Select(t => t.Sounding is { } sounding && !session.IsUnsent(sounding)
        ? t with { Lanes = t.Lanes.Where(l => !session.IsUnsent(l)).ToValueArray(), SoundingLane = t.Lanes.Take(t.SoundingLane).Count(l => !session.IsUnsent(l)) }
        : t)];

    private static Track? Find(Session session, string id) => session.Tracks.FirstOrDefault(t => t.Id == id) is { Kind: TrackKind.Audio, Channels: > 1 } track ? track : null;

    private static string Numbered(string id, ChannelGroup group) => FormattableString.Invariant($"{id}.{group.Channels[0] + 1}");

    private static IEnumerable<(long, long, long, double, Fade, Fade, bool)> Edits(Lane lane) =>
        lane.Clips.Select(c => (c.Start, c.Length, c.SourceOffset, c.GainDb, c.FadeIn, c.FadeOut, c.Muted));

    private static IEnumerable<ValueArray<(string Media, int Channel)>> Sets(IReadOnlyList<Track> tracks) =>
        tracks[0].Lanes.SelectMany((lane, l) => lane.Clips.Select((_, c) => tracks.Select(t => (t.Lanes[l].Clips[c].Media, t.Lanes[l].Clips[c].ChannelMap[0])).ToValueArray()));
}
