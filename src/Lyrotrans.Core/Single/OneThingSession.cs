using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Single;

/// <summary>The session that has one thing only, and how it is prepared.</summary>
internal sealed class OneThingSession(OneThing thing, Session session, Preparation preparation)
{
    /// <summary>More than this is what packages are for, in minutes.</summary>
    private const int MostMinutes = 30;

    private readonly TrackRoles _roles = TrackRoles.Of(session);

    /// <summary>Both, or why there is nothing to take.</summary>
    public (Session Session, Preparation Preparation, string? Problem) Make()
    {
        if (session.Tracks.FirstOrDefault(t => t.Id == thing.TrackId) is not { } track)
        {
            return (session, preparation, "There is no such track any more. Load the page again.");
        }

        var clip = thing.ClipId is null ? null : track.Lanes.SelectMany(l => l.Clips).FirstOrDefault(c => c.Id == thing.ClipId);
        var part = thing.PartId is null ? null : track.Parts.FirstOrDefault(p => p.Id == thing.PartId);
        var range = thing.Range ?? RangeOf(track, clip, part);
        var problem = Problem(track, clip, part, range);
        return problem is not null ? (session, preparation, problem)
            : thing.Form == OneForm.Raw && clip is not null ? AsRecorded(track, clip, range)
            : Prepared(track, clip, part, range);
    }

    private string? Problem(Track track, Clip? clip, NotePart? part, SampleRange range) =>
        thing.ClipId is not null && clip is null ? "There is no such clip any more. Load the page again."
        : thing.PartId is not null && part is null ? "There is no such part any more. Load the page again."
        : thing.Form == OneForm.Notes && track.Kind != TrackKind.Notes ? $"{track.Name} has no notes."
        : thing.Form == OneForm.Raw && !IsSound(track) ? $"{track.Name} has no sound of its own. Take it as a print{(track.Kind == TrackKind.Notes ? " or as notes" : string.Empty)}."
        : Preparation.TreatmentsOf(AsTrack(track)) is [Treatment.HoldBack] ? $"{track.Name} is the {track.Kind.Words()}, of which there is no file alone."
        : range.Length <= 0 ? "The range ends before it begins. Set its end behind its start."
        : range.Length > session.Rate.SamplesIn(MostMinutes * 60).RoundToEven() ? $"That is more than {MostMinutes} minutes. Take less, or build a package."
        : clip is not null && (range.Start >= clip.End || range.End <= clip.Start) ? $"Nothing of {clip.Name} lies in the range."
        : IsSound(track) && clip is null && !(track.Sounding?.Clips.Any(c => !c.Muted && c.Start < range.End && c.End > range.Start) ?? false) ? $"{track.Name} has no sound in the range."
        : track.Kind == TrackKind.Notes && part is null && Cut(track, range).Parts.All(p => p.Notes.Count == 0) ? $"{track.Name} has no notes in the range."
        : range.Start >= session.EndSample || range.End <= Math.Min(0, FirstSample(track)) ? "The range lies outside the session."
        : Missing(track, clip, range) is { } medium ? $"{medium.ShortName} is missing. Bring it in first."
        : null;

    private static long FirstSample(Track track) => track.Lanes.SelectMany(l => l.Clips).Select(c => c.Start).DefaultIfEmpty(0).Min();

    private Media? Missing(Track track, Clip? clip, SampleRange range)
    {
        var used = (clip is not null ? [clip] : (track.Sounding?.Clips ?? []).Where(c => !c.Muted && c.Start < range.End && c.End > range.Start)).Select(c => c.Media).ToHashSet();
        return IsSound(track) ? session.Media.FirstOrDefault(m => used.Contains(m.Id) && m.IsAbsent) : null;
    }

    private static bool IsSound(Track track) => track.Kind == TrackKind.Audio || track.Kind.HasRole();

    // Sound that was made elsewhere is taken as a track.
    private static Track AsTrack(Track track) => track.Kind.HasRole() ? track with { Kind = TrackKind.Audio, Of = [] } : track;

    private SampleRange RangeOf(Track track, Clip? clip, NotePart? part)
    {
        var clock = session.Clock;
        return clip is not null ? new SampleRange(clip.Start, clip.End)
            : part is not null ? new SampleRange(clock.SampleAt(part.StartQuarter), clock.SampleAt(part.EndQuarter))
            : track.Kind == TrackKind.Notes && track.Parts.Count > 0 ? new SampleRange(clock.SampleAt(track.Parts.Min(p => p.StartQuarter)), clock.SampleAt(track.Parts.Max(p => p.EndQuarter)))
            : track.Sounding is { Clips.Count: > 0 } lane && IsSound(track) ? new SampleRange(lane.Clips.Min(c => c.Start), lane.Clips.Max(c => c.End))
            : new SampleRange(0, session.EndSample);
    }

    /// <summary>The samples of the file as they lie in it: at its rate and depth, nothing done to them.</summary>
    private (Session Session, Preparation Preparation, string? Problem) AsRecorded(Track track, Clip clip, SampleRange range)
    {
        var medium = session.Media.First(m => m.Id == clip.Media);
        var (start, end) = (Math.Max(range.Start, clip.Start), Math.Min(range.End, clip.End));
        var rate = medium.Rate;
        var offset = clip.SourceOffset + session.Rate.Convert(start - clip.Start, rate);
        var length = session.Rate.Convert(end - clip.Start, rate) - (offset - clip.SourceOffset);
        var music = SteadyMusic.In(session, new SampleRange(start, end));
        var name = OneThingPlan.Named(clip.Name, music);
        var alone = clip with { Start = session.Rate.Convert(start, rate), Length = length, SourceOffset = offset, GainDb = 0, GainCurve = null, FadeIn = Fade.None, FadeOut = Fade.None, Muted = false };
        var kept = AsTrack(track) with { Channels = clip.ChannelMap.Count, State = TrackState.Active, Inverted = false, Inserts = [], Sends = [], Output = null, Lanes = [new Lane("clip", [alone])], SoundingLane = 0, FaderDb = 0, FaderAutomation = null, Pan = 0, PanAutomation = null };
        var whole = Only(name, [kept]);
        var moved = rate == session.Rate ? whole : SessionMove.Exactly(whole, rate) with { Tracks = [kept] };
        var prepared = Sole(new TrackChoice(track.Id, Treatment.PrintDry, Name: name), new SampleRange(alone.Start, alone.End)) with
        {
            Encoding = medium.Encoding switch
            {
                SampleEncoding.Unsigned8 or SampleEncoding.Signed8 => SampleEncoding.Integer16,
                SampleEncoding.Float64 => SampleEncoding.Float32,
                var own => own,
            },
        };
        return (moved, prepared, null);
    }

    private (Session Session, Preparation Preparation, string? Problem) Prepared(Track track, Clip? clip, NotePart? part, SampleRange range)
    {
        var row = preparation.Tracks.FirstOrDefault(c => c.TrackId == track.Id) ?? new TrackChoice(track.Id, Treatment.HoldBack);
        var kept = AsTrack(track) with { State = TrackState.Active };
        kept = clip is not null ? kept with { Lanes = [new Lane("clip", [clip with { Muted = false }])], SoundingLane = 0 }
            : part is not null ? kept with { Parts = [part with { Muted = false }] }
            : track.Kind == TrackKind.Notes ? Cut(kept, range) : kept;

        // What is bar by bar begins on one.
        var start = track.Kind == TrackKind.Notes && thing.Range is null ? BarBefore(range.Start) : range.Start;
        var name = OneThingPlan.Named(part is not null ? $"{track.Name}_{part.Name}" : clip?.Name ?? track.Name, SteadyMusic.In(session, range));

        // A bus or return sounds by what feeds it, a track of which a print came by that.
        var others = track.Kind is TrackKind.Bus or TrackKind.Return ? session.Tracks.Select(t => t.Id == track.Id ? kept : t)
            : clip is null && part is null && thing.Form != OneForm.Raw && _roles.PrintOf(track.Id) is { } print ? [kept, print with { Of = [track.Id] }]
            : [kept with { Output = null, Sends = [] }];
        var alone = Only(name, others);
        var prepared = Sole(row with { Treatment = TreatmentOf(kept, row), Name = name, Take = null, Spares = false, Beneath = [], Group = null, Marked = false }, new SampleRange(start, range.End));
        prepared = prepared with
        {
            // What only feeds it does not go itself.
            Tracks = [.. prepared.Tracks, .. alone.Tracks.Where(t => t.Id != track.Id).Select(t => new TrackChoice(t.Id, Treatment.HoldBack))],
            Mix = new MixChoices(Sounding: MixSounding.AllHere, Levels: thing.Form == OneForm.Bundle),
        };

        // What rings on goes along with a clip or a part; a range is as long as it was said.
        var tail = thing.Range is null ? Math.Min(new Tails(alone, prepared).Of(kept), new Tails(alone, prepared).Limit) : 0;
        return (alone, prepared with { EndTail = tail }, null);
    }

    private Treatment TreatmentOf(Track track, TrackChoice row) => thing.Form switch
    {
        OneForm.Raw => Treatment.PrintDry,
        OneForm.Notes => Treatment.Notes,
        _ when track.Kind == TrackKind.Notes => Treatment.NotesAndPrint,
        _ => row.Treatment.IsPrint() ? row.Treatment : Treatment.PrintThrough,
    };

    /// <summary>The notes and controllers that begin in a range.</summary>
    private Track Cut(Track track, SampleRange range)
    {
        bool Lies(NotePart part, long tick) => session.Clock.SampleAt(part.StartQuarter + new Rational(tick, part.TicksPerQuarter)) is var at && at >= range.Start && at < range.End;
        return track with { Parts = [.. track.Parts.Select(p => p with { Notes = [.. p.Notes.Where(n => Lies(p, n.Tick))], Controls = [.. p.Controls.Where(c => Lies(p, c.Tick))] }).Where(p => p.Notes.Count > 0)] };
    }

    private long BarBefore(long sample)
    {
        var bar = session.Meters.PositionAt(session.Clock.QuarterAt(sample)).Bar;
        return Math.Clamp(session.Clock.SampleAt(session.Meters.StartOfBar(bar)), 0, sample);
    }

    private Session Only(string name, IEnumerable<Track> tracks)
    {
        var kept = tracks.ToList();
        var used = kept.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        return session with { Name = name, Picture = null, Tracks = [.. kept], Media = [.. session.Media.Where(m => used.Contains(m.Id))] };
    }

    private Preparation Sole(TrackChoice row, SampleRange range) => new()
    {
        Clips = preparation.Clips,
        NamePattern = NamePattern.Track,
        From = RangeStart.Chosen,
        ChosenStart = range.Start,
        ChosenEnd = range.End,
        Encoding = preparation.Encoding,
        Overs = preparation.Overs,
        Dither = preparation.Dither,
        DitherTo24 = preparation.DitherTo24,
        LongestTail = preparation.LongestTail,
        Tags = true,
        Markers = MarkersForm.None,
        Midi = preparation.Midi with { Form = MidiForm.OneFile, MutedParts = true },
        Click = new ClickChoices(),
        Accepted = preparation.Accepted,
        Tracks = [row],
    };
}
