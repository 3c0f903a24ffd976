using Lyrotrans.Core.Mapping;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Editing;

/// <summary>What an engineer decides at Intake: where a source lies, who leads, which file a medium is, what tracks are joined.</summary>
/// <param name="before">The intake as it stands.</param>
/// <param name="session">The session that its sources make.</param>
/// <param name="joined">How they were joined.</param>
public sealed class IntakeEdits(IntakeState before, Session session, JoinedSession joined)
{
    private const int MostDigits = 14;
    private const int MostName = 200;

    /// <summary>Places a source by another rule.</summary>
    /// <param name="item">Its identifier.</param>
    /// <param name="rule">How it comes to its place.</param>
    /// <param name="sample">For a place that is typed, in samples; none takes the place that it has now.</param>
    public Edit<IntakeState> Place(string item, PlacementRule rule, string? sample)
    {
        if (before.Items.FirstOrDefault(i => i.Id == item) is not { } source)
        {
            return Gone();
        }

        var at = joined.Placed.TryGetValue(item, out var placed) ? placed.Sample ?? 0 : 0;
        var digits = new string([.. (sample ?? string.Empty).Where(c => char.IsAsciiDigit(c) || c is '-' or '−')]).Replace('−', '-');
        if (rule == PlacementRule.Offset && sample is not null && (digits.Length > MostDigits || !long.TryParse(digits, out at)))
        {
            return new Refused($"\"{sample}\" is no whole number of samples.");
        }

        var words = rule switch { PlacementRule.Offset => $"at sample {at}", PlacementRule.SessionStart => "at session start", PlacementRule.Bar1 => "at bar 1", _ => "by its time stamp" };
        return With(item, i => i with { Placement = new Placement(rule, rule == PlacementRule.Offset ? at : 0) }, $"placed {ShortName(source)} {words}");
    }

    /// <summary>Says something of a track or of a clip, to whoever works on.</summary>
    /// <param name="track">Its id.</param>
    /// <param name="clip">Of the clip; null for the track itself.</param>
    /// <param name="text">Nothing takes away what was said.</param>
    public Edit<IntakeState> Note(string track, string? clip, string? text)
    {
        var found = session.Tracks.FirstOrDefault(t => t.Id == track);
        var of = clip is null ? null : found?.Lanes.SelectMany(l => l.Clips).FirstOrDefault(c => c.Id == clip);
        if (found is null || (clip is not null && of is null))
        {
            return new Refused("What this was to be said of is gone.");
        }

        var said = (text ?? string.Empty).Trim().ReplaceLineEndings("\n");
        return !NoteText.IsOne(said)
            ? new Refused($"A note has at most {SessionLimits.LongestNote} characters, and this has {Digits.Grouped(said.Length)}, or some that cannot be read.")
            : new Edit<IntakeState>(before.Noting(new ObjectNote(track, clip, said, found.Name, of?.Name)), $"{of?.Name ?? found.Name}: {(said.Length == 0 ? "note taken away" : "noted")}", null);
    }

    /// <summary>Places many sources in one step.</summary>
    /// <param name="items">Their identifiers.</param>
    /// <param name="rule">How each comes to its place.</param>
    /// <param name="kind">For a place that is typed, what it is said in: samples, timecode, bars or seconds.</param>
    /// <param name="text">For a place that is typed.</param>
    /// <param name="inRow">For a place that is typed: the first lies there, and each other begins where the one before it ends.</param>
    public Edit<IntakeState> PlaceMany(IReadOnlyList<string> items, PlacementRule rule, string kind, string? text, bool inRow)
    {
        var marked = Marked(items, i => joined.Placed.GetValueOrDefault(i.Id)?.Sample is not null && !i.IsDocument);
        if (marked.Count == 0)
        {
            return new Refused("None of the marked files has a place of its own.");
        }

        var at = rule == PlacementRule.Offset ? PositionText.Parse(session, kind, text ?? string.Empty) : 0;
        if (at is not { } next)
        {
            return new Refused($"\"{text}\" is no place in {kind}.");
        }

        var places = new Dictionary<string, Placement>();
        foreach (var item in marked)
        {
            places[item.Id] = new Placement(rule, rule == PlacementRule.Offset ? next : 0);
            next += inRow && item.AsDeclared().Sound is { } sound ? sound.SampleRate.Convert(sound.Frames, session.Rate) : 0;
        }

        var where = rule switch { PlacementRule.Offset => $"{(inRow ? "one after the other from" : "at")} {text!.Trim()} {kind}", PlacementRule.Bar1 => "at bar 1", PlacementRule.SessionStart => "at session start", _ => "by their time stamps" };
        return Made(before with { Items = [.. before.Items.Select(i => places.TryGetValue(i.Id, out var place) ? i with { Placement = place } : i)] }, $"placed {Phrases.Count(marked.Count, "file")} {where}");
    }

    /// <summary>Places files where their sound was found.</summary>
    /// <param name="places">The session sample of each, by its identifier.</param>
    public Edit<IntakeState> PlaceFound(IReadOnlyDictionary<string, long> places)
    {
        var found = Marked([.. places.Keys], i => i.IsSound);
        return found.Count == 0 || found.Count < places.Count ? Gone()
            : Made(before with { Items = [.. before.Items.Select(i => places.TryGetValue(i.Id, out var at) ? i with { Placement = new Placement(PlacementRule.Signal, at) } : i)] },
                found.Count == 1 ? $"placed {ShortName(found[0])} by its sound" : $"placed {Phrases.Count(found.Count, "file")} by their sound");
    }

    /// <summary>Declares one rate for many sound files; none goes back to their headers.</summary>
    public Edit<IntakeState> DeclareRates(IReadOnlyList<string> items, string? rate)
    {
        var marked = Marked(items, i => i.IsSound).Select(i => i.Id).ToHashSet();
        return marked.Count == 0 ? new Refused("None of the marked files is sound.")
            : rate is not null && !(Rational.TryParse(rate, out var hz) && RateFinder.IsLikely(hz)) ? new Refused($"\"{rate}\" is no rate that sound is recorded at.")
            : Made(before with { Items = [.. before.Items.Select(i => marked.Contains(i.Id) ? i with { DeclaredRate = rate } : i)] },
                $"{Phrases.Count(marked.Count, "file")} {(rate is null ? "by their headers" : $"at {RateFinder.Words(SoundFileFacts.RateOf(rate))}")}");
    }

    /// <summary>Makes many sound files tracks of their own, or clicks.</summary>
    public Edit<IntakeState> RoleOfMany(IReadOnlyList<string> items, RoleKind kind)
    {
        var marked = Marked(items, i => i.IsSound);
        return kind is not (RoleKind.Track or RoleKind.Click) ? new Refused("Say of each file by itself what it is of.")
            : marked.Count == 0 ? new Refused("None of the marked files is sound.")
            : Roles(marked.ToDictionary(i => i.Id, _ => new ItemRole(kind, [])));
    }

    /// <summary>Splits the tracks of many sound files to mono.</summary>
    public Edit<IntakeState> SplitMany(IReadOnlyList<string> items)
    {
        var tracks = Marked(items, i => i.IsSound).Select(RoleJoin.TrackOf).Where(t => PairJoin.Split(session, t) is not null).ToList();
        return tracks.Count == 0 ? new Refused("None of the marked files is a track of several channels.")
            : Made(before with { ChannelEdits = [.. before.ChannelEdits, .. tracks.Select(t => new ChannelEdit([t], null, []))] }, $"split {Phrases.Count(tracks.Count, "track")} to mono");
    }

    /// <summary>Takes many sources out of the transfer.</summary>
    /// <param name="items">Their identifiers.</param>
    /// <param name="join">Joins what is left, to say what changed.</param>
    public Edit<IntakeState> RemoveMany(IReadOnlyList<string> items, Func<IntakeState, Session> join)
    {
        var marked = Marked(items, _ => true);
        return marked.Count == 0 ? Gone() : Changed(marked.Aggregate(before, Without), $"removed {Phrases.Count(marked.Count, "source")}", join);
    }

    private List<IntakeItem> Marked(IReadOnlyList<string> items, Func<IntakeItem, bool> which)
    {
        var marked = items.ToHashSet();
        return [.. before.Items.Where(i => marked.Contains(i.Id) && which(i))];
    }

    /// <summary>Joins many sets of tracks, by decisions whose files are made.</summary>
    public Edit<IntakeState> JoinMany(IReadOnlyList<ChannelEdit> decisions) => decisions.Count == 0
        ? new Refused("No set of tracks is that certain.")
        : Made(before with { ChannelEdits = [.. before.ChannelEdits, .. decisions] }, $"joined {Phrases.Count(decisions.Count, "set")} of tracks");

    /// <summary>Lets a source lead in tempo and meter; a map that was made at Survey gives way.</summary>
    public Edit<IntakeState> Lead(string item) => before.Items.FirstOrDefault(i => i.Id == item) is { } source
        ? Made(before with { MapFrom = item, MapEdits = [] }, $"{ShortName(source)} leads in tempo and meter")
        : Gone();

    /// <summary>The pan law of the session.</summary>
    public Edit<IntakeState> Law(PanLaw law) => Enum.IsDefined(law) ? Made(before with { PanLaw = law }, $"pan law {law.Words()}") : new Refused("There is no such pan law.");

    /// <summary>Takes the map of the sources again.</summary>
    public Edit<IntakeState> DropMapEdits() => Made(before with { MapEdits = [] }, "tempo and meter as the sources say");

    /// <summary>Takes the tempo map that a click says.</summary>
    /// <param name="map">What was read off it.</param>
    /// <param name="click">Its name.</param>
    public Edit<IntakeState> TempoOf(MusicMap map, string click) =>
        Made(before with { MapEdits = [.. before.MapEdits, MapEdit.Of(session, map with { Keys = session.Keys }, new Anchors())] }, $"tempo and meter off {click}");

    /// <summary>Takes markers from one source; none takes those of all.</summary>
    public Edit<IntakeState> MarkersFrom(string? item) => before.Items.FirstOrDefault(i => i.Id == item) is { } source
        ? Made(before with { MarkersFrom = item }, $"markers from {ShortName(source)} only")
        : Made(before with { MarkersFrom = null }, "markers from all sources");

    /// <summary>Says which file a medium is.</summary>
    public Edit<IntakeState> Link(string media, string item)
    {
        var (wanted, file) = (session.Media.FirstOrDefault(m => m.Id == media), before.Items.FirstOrDefault(i => i.Id == item && i.IsSound));
        return wanted is null || file is null ? Gone() : Made(before with { Links = new Dictionary<string, string>(before.Links) { [media] = item } }, $"{wanted.FileName} is {ShortName(file)}");
    }

    /// <summary>Takes the likeliest file for each medium in doubt; each file once, the likeliest for two media for the first.</summary>
    public Edit<IntakeState> LinkLikeliest()
    {
        var links = new Dictionary<string, string>(before.Links);
        foreach (var missing in joined.Missing)
        {
            if (missing.Doubtful.FirstOrDefault(d => !links.ContainsValue(d.Candidate)) is { } likeliest)
            {
                links[missing.Media] = likeliest.Candidate;
            }
        }

        return Made(before with { Links = links }, "took the likeliest file for each medium in doubt");
    }

    /// <summary>Takes a link by hand back.</summary>
    public Edit<IntakeState> Unlink(string media) => Made(before with { Links = before.Links.Where(l => l.Key != media).ToDictionary() }, "a link by hand was taken back");

    /// <summary>Declares the rate of a sound file whatever its header says, in samples a second as a ratio; none goes back to the header.</summary>
    public Edit<IntakeState> DeclareRate(string item, string? rate)
    {
        if (before.Items.FirstOrDefault(i => i.Id == item && i.IsSound) is not { } sound)
        {
            return Gone();
        }

        return rate is not null && !(Rational.TryParse(rate, out var hz) && RateFinder.IsLikely(hz))
            ? new Refused($"\"{rate}\" is no rate that sound is recorded at.")
            : With(item, i => i with { DeclaredRate = rate }, $"{ShortName(sound)} {(rate is null ? "has the rate of its header again" : $"is {RateFinder.Words(SoundFileFacts.RateOf(rate))}")}");
    }

    /// <summary>Takes a source out of the transfer, with what lies inside it; what was decided about tracks that stay holds.</summary>
    /// <param name="item">Its identifier.</param>
    /// <param name="join">Joins what is left, to say what changed.</param>
    public Edit<IntakeState> Remove(string item, Func<IntakeState, Session> join) => before.Items.FirstOrDefault(i => i.Id == item) is { } source
        ? Changed(Without(before, source), $"removed {ShortName(source)}", join)
        : Gone();

    /// <summary>Lets a document that describes the session take the place of the one that leads.</summary>
    /// <param name="item">Its identifier.</param>
    /// <param name="join">Joins what is left, to say what changed.</param>
    public Edit<IntakeState> TakeInstead(string item, Func<IntakeState, Session> join)
    {
        var documents = before.Items.Where(i => i.IsDocument).ToList();
        return documents.Find(d => d.Id == item) is not { } corrected || documents.Find(d => d.Id != item && d.Id == joined.Leader) is not { } leader
            ? Gone()
            : Changed(Without(before, leader) with { MapFrom = before.MapFrom == leader.Id ? item : before.MapFrom, MarkersFrom = before.MarkersFrom == leader.Id ? item : before.MarkersFrom }, $"{ShortName(corrected)} instead of {ShortName(leader)}", join);
    }

    /// <summary>Lays another session beside the one that leads; of those the one that begins first leads. What was placed at a typed sample stays where it is in time.</summary>
    /// <param name="item">The identifier of its document.</param>
    /// <param name="join">Joins it, to say what changed.</param>
    public Edit<IntakeState> LayBeside(string item, Func<IntakeState, Session> join)
    {
        if (before.Items.FirstOrDefault(i => i.IsDocument && i.Id == item) is not { } other || before.Beside.Contains(item) || joined.Placed.GetValueOrDefault(item)?.Sample is not null)
        {
            return Gone();
        }

        var leader = before.Items.First(i => i.Id == joined.Leader);
        string[] both = [leader.Id, item];
        var after = before with
        {
            Beside = [.. before.Beside.Concat(both).Distinct()],
            Items = [.. before.Items.Select(i => both.Contains(i.Id) && i.Placement.Rule == PlacementRule.SessionStart ? i with { Placement = new Placement() } : i)],
        };
        var made = join(after);
        var shift = session.Rate.SamplesIn((session.Start.Frames / session.FrameRate.PerSecond) - (made.Start.Frames / made.FrameRate.PerSecond)).RoundToEven();
        return shift != 0 && before.MapEdits.Count > 0 ? new Refused($"{ShortName(other)} begins before the session, and the map that was made here would not move with it. Take that map back first.")
            : shift != 0 && made.Rate != session.Rate ? new Refused($"{ShortName(other)} begins before the session and has another rate: let it take the place of {ShortName(leader)}, and lay that beside it.")
            : Changed(after with { Items = [.. after.Items.Select(i => i.Placement.Rule is PlacementRule.Offset or PlacementRule.Signal ? i with { Placement = i.Placement with { Sample = i.Placement.Sample + shift } } : i)] }, $"{ShortName(other)} lies beside {ShortName(leader)}", join);
    }

    /// <summary>Takes a session that lies beside another out again; it stays among the sources.</summary>
    public Edit<IntakeState> NotBeside(string item, Func<IntakeState, Session> join) => before.Items.FirstOrDefault(i => i.Id == item && i.Id != joined.Leader && before.Beside.Contains(i.Id)) is { } other
        ? Changed(before with { Beside = [.. before.Beside.Where(b => b != item)] }, $"{ShortName(other)} does not lie beside any more", join)
        : Gone();

    private Edit<IntakeState> Changed(IntakeState after, string words, Func<IntakeState, Session> join) => Made(after, $"{words}; {SessionChange.Words(session, join(after))}");

    private static IntakeState Without(IntakeState state, IntakeItem source)
    {
        var inside = EmbeddedMedia.FolderOf(source.Name);
        var kept = state.Items.Where(i => i.Id != source.Id && !(source.IsDocument && i.Name.StartsWith(inside, StringComparison.Ordinal))).ToList();
        return state with { Items = kept, Beside = [.. state.Beside.Where(b => b != source.Id)], Links = state.Links.Where(l => l.Value.Length == 0 || kept.Exists(i => i.Id == l.Value)).ToDictionary() };
    }

    /// <summary>Says what sound files are; what they stand for has one print and one stem, and a session one guide mix: who was it before is a track.</summary>
    /// <param name="roles">The new role of each, by its identifier.</param>
    public Edit<IntakeState> Roles(IReadOnlyDictionary<string, ItemRole> roles)
    {
        var sounds = before.Items.Where(i => i.IsSound && roles.ContainsKey(i.Id)).ToList();
        if (sounds.Count < roles.Count || roles.Count == 0)
        {
            return Gone();
        }

        var after = before with { Items = [.. before.Items.Select(i => roles.TryGetValue(i.Id, out var role) ? i with { Role = role } : Yields(i, roles.Values) ? i with { Role = new ItemRole(RoleKind.Track, []) } : i)] };
        var words = sounds.Count == 1 ? $"{ShortName(sounds[0])} is {(roles[sounds[0].Id].Kind == RoleKind.Track ? "a track" : RoleJoin.Words(roles[sounds[0].Id]))}" : $"{sounds.Count} files have roles";
        return Made(after, words);
    }

    /// <summary>Says what one sound file is.</summary>
    /// <param name="item">Its identifier.</param>
    /// <param name="kind">What it is.</param>
    /// <param name="of">The tracks that a print or stem is of.</param>
    public Edit<IntakeState> Role(string item, RoleKind kind, IReadOnlyList<string> of)
    {
        if (!Enum.IsDefined(kind))
        {
            return new Refused("A file is a track, a print, a stem, the guide mix or a click.");
        }

        var wanted = kind is RoleKind.Print or RoleKind.Stem ? of : [];
        var targets = session.Tracks.Where(t => wanted.Contains(t.Id) && CanHave(t, kind)).Select(t => new RoleTarget(t.Id, t.Name)).ToList();
        return targets.Count < wanted.Distinct().Count() || (kind == RoleKind.Print && targets.Count != 1) || (kind == RoleKind.Stem && targets.Count == 0)
            ? new Refused($"Say which track it is the {RoleJoin.KindOf(kind).Words()} of.")
            : Roles(new Dictionary<string, ItemRole> { [item] = new ItemRole(kind, targets) });
    }

    /// <summary>Leaves it open again what a sound file is.</summary>
    public Edit<IntakeState> Undecided(string item) => before.Items.FirstOrDefault(i => i.Id == item) is { } source
        ? With(item, i => i with { Role = null }, $"what {ShortName(source)} is was left open again")
        : Gone();

    /// <summary>Whether a track can have a print, or be in a stem.</summary>
    public static bool CanHave(Track track, RoleKind kind) => track.Kind.IsSource() || track.Kind == TrackKind.Bus || (track.Kind == TrackKind.Return && kind == RoleKind.Print);

    private static bool Yields(IntakeItem item, IEnumerable<ItemRole> roles) => item.Role is { } old && roles.Any(r => r.Kind == old.Kind
        && (r.Kind == RoleKind.GuideMix || r.Of.Any(of => old.Of.Any(o => o.Id == of.Id))));

    /// <summary>Takes another composition of the document that leads; tracks that were joined or split are as they were.</summary>
    public Edit<IntakeState> TakeComposition(string name) => joined.Compositions.Contains(name)
        ? Made(before with { Composition = name, ChannelEdits = [] }, $"took the composition {name}")
        : new Refused("There is no such composition.");

    /// <summary>Joins tracks, by a decision whose files are made.</summary>
    public Edit<IntakeState> Join(ChannelEdit decision, string name) =>
        Made(before with { ChannelEdits = [.. before.ChannelEdits, decision] }, $"joined {string.Join(" and ", decision.Tracks.Select(NameOf))} to {name}");

    /// <summary>Splits a track to mono.</summary>
    public Edit<IntakeState> Split(string track) => PairJoin.Split(session, track) is null
        ? new Refused("There is no such track to split.")
        : Made(before with { ChannelEdits = [.. before.ChannelEdits, new ChannelEdit([track], null, [])] }, $"split {NameOf(track)} to mono");

    /// <summary>Splits a track to tracks of some of its channels each.</summary>
    /// <param name="track">Its identifier.</param>
    /// <param name="groups">What it becomes; every channel in one of them.</param>
    public Edit<IntakeState> Split(string track, IReadOnlyList<ChannelGroup> groups)
    {
        var named = groups.Select(g => g with { Name = g.Name.Trim() }).ToList();
        return named.Exists(g => g.Name.Length is 0 or > MostName) ? new Refused($"Every track needs a name of 1 to {MostName} characters.")
            : PairJoin.Split(session, track, named) is null ? new Refused("Every channel goes to one track, and none is lost.")
            : named.Count == 1 ? new Refused("All channels are in one track: that is how it is.")
            : Made(before with { ChannelEdits = [.. before.ChannelEdits, new ChannelEdit([track], null, [], named)] }, $"split {NameOf(track)} to {string.Join(", ", named.Select(g => g.Name))}");
    }

    /// <summary>Cuts tracks from zero back at their silences; one that was cut before is cut anew.</summary>
    /// <param name="cuts">Where their silences were found.</param>
    /// <param name="clips">How many clips they make.</param>
    public Edit<IntakeState> Cut(IReadOnlyList<TrackCut> cuts, int clips) => cuts.Count == 0
        ? new Refused("No silence is that long and that quiet.")
        : Made(before with { Cuts = [.. before.Cuts.Where(old => !cuts.Any(c => c.Track == old.Track)), .. cuts] }, $"cut {(cuts.Count == 1 ? NameOf(cuts[0].Track) : Phrases.Count(cuts.Count, "track"))} back to {Phrases.Count(clips, "clip")}");

    /// <summary>Makes a track whole again that was cut at its silences; none makes all whole.</summary>
    public Edit<IntakeState> Uncut(string? track) => before.Cuts.Any(c => track is null || c.Track == track)
        ? Made(before with { Cuts = track is null ? [] : [.. before.Cuts.Where(c => c.Track != track)] }, $"{(track is null ? "all tracks from zero are" : $"{NameOf(track)} is")} whole again")
        : Gone();

    /// <summary>Takes the last joining or splitting back.</summary>
    public Edit<IntakeState> UndoChannels() => Made(before with { ChannelEdits = [.. before.ChannelEdits.SkipLast(1)] }, "took back the last joining or splitting");

    /// <summary>Names the session and says its frame rate and start.</summary>
    /// <param name="name">Empty takes <paramref name="otherwise"/>.</param>
    /// <param name="otherwise">The name of the transfer.</param>
    /// <param name="frameRate">By its name, such as <c>29.97 drop</c>.</param>
    /// <param name="start">As timecode; empty takes the earliest time stamp.</param>
    public Edit<IntakeState> Facts(string? name, string otherwise, string frameRate, string? start)
    {
        if (!FrameRate.TryFromName(frameRate, out var rate))
        {
            return new Refused($"There is no frame rate {frameRate}.");
        }

        var typed = string.IsNullOrWhiteSpace(start) ? null : start.Trim();
        if (typed is not null && !Timecode.TryParse(typed, rate, out _))
        {
            return new Refused($"\"{start}\" is no timecode at {frameRate} frames a second.");
        }

        var after = before with { SessionName = string.IsNullOrWhiteSpace(name) ? otherwise : name.Trim(), FrameRate = frameRate, Start = typed };
        return Made(after, $"session facts: {after.SessionName}, {frameRate} frames, start {typed ?? "by time stamp"}");
    }

    private string NameOf(string track) => session.Tracks.FirstOrDefault(t => t.Id == track)?.Name ?? track;

    private static string ShortName(IntakeItem item) => Path.GetFileName(item.Name);

    private Edit<IntakeState> With(string item, Func<IntakeItem, IntakeItem> change, string words) =>
        Made(before with { Items = [.. before.Items.Select(i => i.Id == item ? change(i) : i)] }, words);

    private static Edit<IntakeState> Made(IntakeState after, string words) => new(after, words, null);

    private static Refused Gone() => new("That is not there any more. Load the page again.");
}
