namespace Lyrotrans.Core.Sessions;

/// <summary>The rules that every session keeps, whoever made it.</summary>
public static class SessionRules
{
    /// <summary>Every broken rule, in document order; none for a sound session.</summary>
    public static IEnumerable<SessionFault> Check(Session session)
    {
        var media = new Dictionary<string, Media>();
        for (var i = 0; i < session.Media.Count; i++)
        {
            if (!media.TryAdd(session.Media[i].Id, session.Media[i]))
            {
                yield return new($"$.media[{i}].id", $"The media id \"{session.Media[i].Id}\" is used twice.");
            }
        }

        var tracks = new HashSet<string>();
        for (var i = 0; i < session.Tracks.Count; i++)
        {
            if (!tracks.Add(session.Tracks[i].Id))
            {
                yield return new($"$.tracks[{i}].id", $"The track id \"{session.Tracks[i].Id}\" is used twice.");
            }
        }

        for (var i = 0; i < session.Tracks.Count; i++)
        {
            foreach (var fault in CheckTrack(session.Tracks[i], $"$.tracks[{i}]", media, tracks))
            {
                yield return fault;
            }
        }

        foreach (var fault in CheckOutputs(session).Concat(CheckRoles(session)))
        {
            yield return fault;
        }
    }

    /// <summary>Every broken rule of prints, stems, mixes and clicks that came along.</summary>
    public static IEnumerable<SessionFault> CheckRoles(Session session)
    {
        var kinds = session.Tracks.GroupBy(t => t.Id).ToDictionary(g => g.Key, g => g.First().Kind);
        var (printed, stems, guides) = (new HashSet<string>(), new HashSet<string>(), 0);
        for (var i = 0; i < session.Tracks.Count; i++)
        {
            var (track, path) = (session.Tracks[i], $"$.tracks[{i}]");
            if (RoleFault(track, kinds) is { } fault)
            {
                yield return new($"{path}.of", fault);
            }

            if (track.Kind.HasRole() && (track.Output is not null || track.Sends.Count > 0 || track.Inserts.Count > 0 || track.Parts.Count > 0))
            {
                yield return new(path, $"A {track.Kind.Words()} that came along feeds nothing and has no effects and notes; \"{track.Name}\" has.");
            }

            if (track.Sends.Select(s => s.Target).Append(track.Output).OfType<string>().Any(t => kinds.TryGetValue(t, out var kind) && kind.HasRole()))
            {
                yield return new(path, $"\"{track.Name}\" feeds sound that was made elsewhere.");
            }

            if (track.Holds != default && track.Kind != TrackKind.Print)
            {
                yield return new($"{path}.holds", $"Only a print holds a fader or a pan; \"{track.Name}\" is none.");
            }

            var twice = track.Kind == TrackKind.Print ? track.Of.FirstOrDefault(of => !printed.Add(of)) : track.Kind == TrackKind.Stem ? track.Of.FirstOrDefault(of => !stems.Add(of)) : null;
            if (twice is not null)
            {
                yield return new($"{path}.of", $"\"{twice}\" has two {track.Kind.Words()}s.");
            }

            guides += track.Kind == TrackKind.GuideMix ? 1 : 0;
            if (track.Kind == TrackKind.GuideMix && guides == 2)
            {
                yield return new($"{path}.kind", "There are two guide mixes.");
            }
        }
    }

    private static string? RoleFault(Track track, Dictionary<string, TrackKind> kinds)
    {
        if (track.Kind is not (TrackKind.Print or TrackKind.Stem))
        {
            return track.Of.Count > 0 ? $"Only a print or a stem is of others; \"{track.Name}\" is neither." : null;
        }

        var unfit = track.Of.FirstOrDefault(of => !kinds.TryGetValue(of, out var kind) || !(kind.IsSource() || kind == TrackKind.Bus || (kind == TrackKind.Return && track.Kind == TrackKind.Print)));
        return unfit is not null ? $"\"{track.Name}\" is of \"{unfit}\", and no track that it could be of has that id."
            : track.Of.Count == 0 || (track.Kind == TrackKind.Print && track.Of.Count > 1) ? $"\"{track.Name}\" is of {track.Of.Count} tracks; a print is of one, a stem of one or more."
            : null;
    }

    private static IEnumerable<SessionFault> CheckTrack(
        Track track, string path, Dictionary<string, Media> media, HashSet<string> tracks)
    {
        if (track.Output is { } output && !tracks.Contains(output))
        {
            yield return new($"{path}.output", $"It feeds \"{output}\", and no track has that id.");
        }

        for (var s = 0; s < track.Sends.Count; s++)
        {
            if (!tracks.Contains(track.Sends[s].Target))
            {
                yield return new($"{path}.sends[{s}].target", $"It sends to \"{track.Sends[s].Target}\", and no track has that id.");
            }
        }

        if (track.Lanes.Count > 0 && (track.SoundingLane < 0 || track.SoundingLane >= track.Lanes.Count))
        {
            yield return new($"{path}.soundingLane", $"Lane {track.SoundingLane} sounds, and there are {track.Lanes.Count}.");
        }

        for (var l = 0; l < track.Lanes.Count; l++)
        {
            var clips = track.Lanes[l].Clips;
            for (var c = 0; c < clips.Count; c++)
            {
                foreach (var fault in CheckClip(clips[c], track, $"{path}.lanes[{l}].clips[{c}]", media))
                {
                    yield return fault;
                }

                if (c > 0 && clips[c].Start < clips[c - 1].Start)
                {
                    yield return new($"{path}.lanes[{l}].clips[{c}].start", "Clips on a lane ascend by their start; this one starts before the one ahead of it.");
                }
            }

            // A muted clip makes no sound, so it may lie over or under others.
            var sounding = clips.Select((clip, index) => (Clip: clip, Index: index)).Where(p => !p.Clip.Muted).ToList();
            for (var c = 1; c < sounding.Count; c++)
            {
                var place = $"{path}.lanes[{l}].clips[{sounding[c].Index}].start";
                if (Overlap(sounding[c - 1].Clip, sounding[c].Clip) is { } problem)
                {
                    yield return new(place, problem);
                }

                if (c > 1 && sounding[c - 2].Clip.End > sounding[c].Clip.Start)
                {
                    yield return new(place, "Three clips overlap here; only two may, in a crossfade.");
                }
            }
        }
    }

    private static IEnumerable<SessionFault> CheckClip(Clip clip, Track track, string path, Dictionary<string, Media> media)
    {
        if (clip.Length <= 0)
        {
            yield return new($"{path}.length", $"A clip of {clip.Length} samples is not possible.");
        }

        if (clip.SourceOffset < 0)
        {
            yield return new($"{path}.sourceOffset", $"A source offset of {clip.SourceOffset} samples lies before the media.");
        }

        if (clip.FadeIn.Length + clip.FadeOut.Length > clip.Length)
        {
            yield return new($"{path}.fadeIn", $"Its fades are {clip.FadeIn.Length + clip.FadeOut.Length} samples, longer than the clip's {clip.Length}.");
        }

        if (!media.TryGetValue(clip.Media, out var file))
        {
            yield return new($"{path}.media", $"It takes its sound from \"{clip.Media}\", and no media has that id.");
            yield break;
        }

        if (clip.ChannelMap.Count != track.Channels)
        {
            yield return new($"{path}.channelMap", $"It maps {clip.ChannelMap.Count} channels, and its track has {track.Channels}.");
        }

        if (file.Channels > 0 && clip.ChannelMap.Any(c => c < 0 || c >= file.Channels))
        {
            yield return new($"{path}.channelMap", $"It maps a channel that \"{file.FileName}\" does not have; that has {file.Channels}.");
        }
    }

    private static string? Overlap(Clip before, Clip after)
    {
        var overlap = before.End - after.Start;
        var faded = before.FadeOut.Length >= overlap && after.FadeIn.Length >= overlap;
        return overlap <= 0 || faded
            ? null
            : $"It overlaps \"{before.Name}\" by {overlap} samples without a fade on both sides.";
    }

    private static IEnumerable<SessionFault> CheckOutputs(Session session)
    {
        var feeds = session.Tracks.GroupBy(t => t.Id).ToDictionary(
            g => g.Key,
            g => g.First().Sends.Select(s => s.Target).Append(g.First().Output ?? string.Empty).ToArray());
        var done = new HashSet<string>();
        for (var i = 0; i < session.Tracks.Count; i++)
        {
            if (ReachesItself(session.Tracks[i].Id, feeds, done))
            {
                yield return new($"$.tracks[{i}].output", $"The path out of \"{session.Tracks[i].Name}\" comes back to itself.");
            }
        }
    }

    private static bool ReachesItself(string start, Dictionary<string, string[]> feeds, HashSet<string> safe)
    {
        var seen = new HashSet<string>();
        var open = new Stack<string>(feeds[start]);
        while (open.TryPop(out var next))
        {
            if (next == start)
            {
                return true;
            }

            if (!safe.Contains(next) && feeds.TryGetValue(next, out var targets) && seen.Add(next))
            {
                foreach (var target in targets)
                {
                    open.Push(target);
                }
            }
        }

        safe.Add(start);
        return false;
    }
}
