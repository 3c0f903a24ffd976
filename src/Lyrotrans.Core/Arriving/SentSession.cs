using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Arriving;

/// <summary>What a package brings onto a timeline: the clips of its files of clips, and each of its files of sound as one clip on a track of its own, all from where the file of clips begins, or the files of sound where there is none.</summary>
/// <param name="Session">All of it. The medium of a file of sound is known by the file's path.</param>
/// <param name="Tracks">Of what each track is.</param>
/// <param name="Music">Tempo, meters and notes as its MIDI files say them, counted from their own bar 1; null where it has none.</param>
public sealed record SentSession(Session Session, IReadOnlyList<SentTrack> Tracks, Session? Music)
{
    /// <summary>The sample of the session it was made of that its sample 0 lies on, in samples of its own rate; 0 where it is that session.</summary>
    public long Begin { get; init; }

    /// <summary>A session that was sent as it is.</summary>
    public static SentSession Whole(ArrivalSide side) => new(side.Clips ?? new Session { Name = string.Empty }, [.. side.Clips?.Tracks.Select(t => new SentTrack(t.Id, t.Id, !side.IsEdit)) ?? []], side.Music);

    /// <param name="plan">That the package was built by.</param>
    /// <param name="music">What its MIDI files say.</param>
    public static SentSession Of(DeliveryPlan plan, Session? music)
    {
        var (clips, tracks) = (plan.Clips?.Session, new List<SentTrack>());
        tracks.AddRange(plan.Clips?.Tracks.SelectMany(t => t.Became.Select(id => new SentTrack(id, t.TrackId, false))) ?? []);
        var rate = clips?.Rate ?? plan.Timeline.Rate;
        var begin = plan.Session.Rate.Convert(clips is null ? plan.Range.Start : ClipStart.Of(plan), rate);
        var (media, files) = (new List<Media>(), new List<Track>());
        foreach (var file in plan.Files.Where(f => f.IsSound))
        {
            var (medium, track) = Made(file, rate, begin);
            media.Add(medium);
            files.Add(track);
            tracks.Add(new SentTrack(track.Id, file.Kind == PlannedKind.FromZero ? file.TrackId : null, true));
        }

        var session = clips ?? new Session { Name = plan.Session.Name, Rate = rate, Start = plan.Timeline.TimecodeScale.At(plan.TimelineRange.Start).Frame };
        return new SentSession(session with { Media = [.. session.Media, .. media], Tracks = [.. session.Tracks, .. files] }, tracks, music) { Begin = begin };
    }

    /// <summary>
    /// What can be looked for at the other side. A track that went in two forms is there when one of them is; where none is, it is missed in its first. Mixes, stems and the click are looked for where they were brought in.
    /// Where no file of clips was brought in, places count from where the files of sound begin.
    /// </summary>
    /// <param name="found">The sent media whose sound is at the other side, by their ids.</param>
    public Session BroughtIn(IReadOnlySet<string> found)
    {
        var all = Session.Tracks.ToDictionary(t => t.Id);
        bool IsThere(SentTrack track) => all[track.Id].Lanes.Any(l => l.Clips.Any(c => found.Contains(c.Media)));
        var kept = Tracks.Where(t => t.Of is null && IsThere(t)).ToList();
        foreach (var forms in Tracks.Where(t => t.Of is not null).GroupBy(t => t.Of))
        {
            var there = forms.GroupBy(t => t.IsFile).Where(f => f.Any(IsThere)).SelectMany(f => f).ToList();
            kept.AddRange(there.Count > 0 ? there : forms.Where(t => t.IsFile == forms.First().IsFile));
        }

        // Where nothing at all is known again, clips are what there is to miss.
        var ids = kept.Select(t => t.Id).ToHashSet();
        var back = kept.Exists(t => !t.IsFile && (IsThere(t) || !kept.Exists(f => f.IsFile && IsThere(f)))) ? 0 : kept.Where(t => t.IsFile && t.Of is not null).Select(t => all[t.Id].Lanes[0].Clips[0].Start).DefaultIfEmpty(0).Min();
        return Session with { Tracks = [.. Session.Tracks.Where(t => ids.Contains(t.Id)).Select(t => back == 0 ? t : Later(t, -back))] };
    }

    /// <summary>Whether a track is a file of sound from the start.</summary>
    public bool IsFile(Track track) => Tracks.Any(t => t.Id == track.Id && t.IsFile);

    private static Track Later(Track track, long by) => track with { Lanes = [.. track.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => c with { Start = c.Start + by })] })] };

    private static (Media Medium, Track Track) Made(PlannedFile file, SampleRate rate, long begin)
    {
        var (name, form) = (file.Path[(file.Path.LastIndexOf('/') + 1)..], file.Made);
        var medium = new Media { Id = file.Path, FileName = name, Rate = form.Rate, Channels = file.Channels, Length = file.Frames, Encoding = SampleEncoding.Integer24 };
        var start = form.Rate.Convert(file.Span.Start, rate) - begin;
        var clip = new Clip { Id = file.Path, Name = Path.GetFileNameWithoutExtension(name), Media = file.Path, ChannelMap = [.. Enumerable.Range(0, file.Channels)], Start = start, Length = form.Rate.Convert(file.Span.Start + file.Frames, rate) - begin - start };
        return (medium, new Track { Id = file.Path, Name = clip.Name, Channels = file.Channels, Lanes = [new Lane("main", [clip])] });
    }
}
