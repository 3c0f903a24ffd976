using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Roles;

/// <summary>
/// Proposes what sound files are by their names, lengths, channels and what they were heard to be: prints of what cannot sound here, stems of buses, a guide mix, a click. Only files that
/// nobody decided on, that are no media, and only where the session has tracks besides them, or is their sum.
/// </summary>
public sealed class RoleFinder
{
    // A print begins and ends about where its track does; what rings may ring long after.
    private const double RingSeconds = 30;
    private const double EarlySeconds = 2;

    // What is so alike is the same sound through another level, little more.
    private const double Same = 0.9;
    private const double Heard = 0.3;
    private readonly Session _session;
    private readonly TrackRoles _roles;
    private readonly HashSet<string> _fileTracks;
    private readonly List<(Track Track, IReadOnlyList<string> Words)> _targets;

    private RoleFinder(Session session, IReadOnlyList<IntakeItem> items)
    {
        _session = session;
        _roles = TrackRoles.Of(session);
        _fileTracks = [.. items.Select(RoleJoin.TrackOf)];
        _targets = [.. session.Tracks.Where(t => !_fileTracks.Contains(t.Id) && CanHaveRole(t)).Select(t => (t, NameWords.Of(t.Name)))];
    }

    /// <param name="session">What the files make as they are.</param>
    /// <param name="items">What was brought in.</param>
    public static IReadOnlyList<RoleProposal> Propose(Session session, IReadOnlyList<IntakeItem> items)
    {
        var finder = new RoleFinder(session, items);
        var open = items.Where(i => i.IsSound && i.Role is null && i.Sound!.Frames > 0).ToList();
        var tracks = session.Tracks.Where(t => t.Kind == TrackKind.Audio).ToDictionary(t => t.Id);
        var found = open.Where(i => tracks.ContainsKey(RoleJoin.TrackOf(i))).Select(i => finder.Of(i, tracks[RoleJoin.TrackOf(i)])).OfType<RoleProposal>().ToList();

        // Where nothing can have a print, a file is a track or a click.
        return [.. OnlyOnce(found).Where(p => finder._targets.Count > 0 || (p.Role.Kind == RoleKind.Click && tracks.Count > 1) || IsHeard(items.First(i => i.Id == p.Item), p.Role))];
    }

    // Two files that seem to be one thing: neither is sure.
    private static IEnumerable<RoleProposal> OnlyOnce(List<RoleProposal> found)
    {
        var counts = found.Where(p => p.Role.Kind != RoleKind.Click).GroupBy(Thing).ToDictionary(g => g.Key, g => g.Count());
        return found.Select(p => counts.GetValueOrDefault(Thing(p)) > 1 ? p with { Certainty = p.Certainty / 2, Reasons = [.. p.Reasons, $"{counts[Thing(p)]} files seem to be this"] } : p);
    }

    private static (RoleKind, string) Thing(RoleProposal proposal) => (proposal.Role.Kind, string.Join('\n', proposal.Role.Of.Select(o => o.Id)));

    private static bool CanHaveRole(Track track) => track.Kind.IsSource() || track.Kind is TrackKind.Bus or TrackKind.Return;

    private static bool IsHeard(IntakeItem item, ItemRole role) => item.Heard is { } heard && heard.Kind == role.Kind && heard.Of?.Id == role.Of.SingleOrDefault()?.Id;

    private RoleProposal? Of(IntakeItem item, Track track) => ByName(item, track) is { } named ? WithSound(item, named) : BySound(item, track);

    // A name that says one thing and a sound that is another: nobody can be sure.
    private RoleProposal WithSound(IntakeItem item, RoleProposal named) =>
        item.Heard is not { } heard || (heard.Of is { } of && _targets.All(t => t.Track.Id != of.Id)) ? named
        : IsHeard(item, named.Role) ? named with { Certainty = Math.Min(1, named.Certainty + (heard.Correlation >= Same ? Heard : Heard / 2)), Reasons = [.. named.Reasons, "sound"] }
        : heard.Correlation >= Same ? named with { Certainty = Math.Max(0, named.Certainty - Heard), Reasons = [.. named.Reasons, $"but it sounds like {RoleJoin.Words(RoleOf(heard))}"] }
        : named;

    private RoleProposal? BySound(IntakeItem item, Track track)
    {
        if (item.Heard is not { } heard || (heard.Of is { } of && (_targets.All(t => t.Track.Id != of.Id) || _roles.PrintOf(of.Id) is not null)) || (heard.Of is null && _roles.Guide is not null))
        {
            return null;
        }

        var length = Length(track, heard.Of is null ? _session.EndSample : EndOf(_targets.First(t => t.Track.Id == heard.Of.Id).Track));
        return new RoleProposal(item.Id, RoleOf(heard), (heard.Correlation >= Same ? 0.6 : 0.4) + LengthCounts(length.Fits), ["sound", length.Words]);
    }

    private static ItemRole RoleOf(HeardAs heard) => new(heard.Kind, heard.Of is { } of ? [of] : []);

    private RoleProposal? ByName(IntakeItem item, Track track)
    {
        var words = NameWords.Of(track.Name[(track.Name.LastIndexOf('/') + 1)..]);
        return NameWords.SaysClick(words) ? Made(item, RoleKind.Click, null, Length(track, _session.EndSample), "name")
            : Named(words) is { } target ? OfTarget(item, track, target.Track, words, target.Words)
            : NameWords.SaysMix(words) && item.Sound!.Channels == 2 ? Made(item, RoleKind.GuideMix, null, Length(track, _session.EndSample), "name")
            : null;
    }

    /// <summary>The track whose name the file's holds; of several the longest.</summary>
    private (Track Track, IReadOnlyList<string> Words)? Named(IReadOnlyList<string> words)
    {
        var found = _targets.Where(t => NameWords.Holds(words, t.Words)).OrderByDescending(t => t.Words.Sum(w => w.Length)).ToList();
        return found.Count > 0 ? found[0] : null;
    }

    private RoleProposal? OfTarget(IntakeItem item, Track track, Track target, IReadOnlyList<string> words, IReadOnlyList<string> name)
    {
        // A file that is only called like a track with sound of its own is more likely another take of it.
        var (print, stem) = (NameWords.SaysPrint(words), NameWords.SaysStem(words));
        if (_roles.PrintOf(target.Id) is not null || (target.Kind == TrackKind.Audio && !print && !stem) || NameWords.Others(words, name) > 2)
        {
            return null;
        }

        var kind = target.Kind == TrackKind.Bus || (stem && target.Kind != TrackKind.Return) ? RoleKind.Stem : RoleKind.Print;
        var proposal = Made(item, kind, target, Length(track, EndOf(target)), NameWords.Others(words, name) == 0 ? "name" : "part of the name");
        return print || stem ? proposal with { Certainty = Math.Min(1, proposal.Certainty + 0.15) } : proposal;
    }

    private static RoleProposal Made(IntakeItem item, RoleKind kind, Track? target, (bool Fits, string Words) length, string name)
    {
        var certainty = (name == "name" ? 0.6 : 0.4) + LengthCounts(length.Fits);
        return new RoleProposal(item.Id, new ItemRole(kind, target is null ? [] : [new RoleTarget(target.Id, target.Name)]), certainty, [name, length.Words]);
    }

    private static double LengthCounts(bool fits) => fits ? 0.25 : -0.25;

    private (bool Fits, string Words) Length(Track track, long end)
    {
        var late = _session.Rate.SecondsOf(track.Lanes.SelectMany(l => l.Clips).Max(c => c.End) - end).ToDouble();
        return end > 0 && late is > -EarlySeconds and < RingSeconds ? (true, "length")
            : (false, end <= 0 ? "nothing to hold its length to" : late > 0 ? "longer" : "shorter");
    }

    /// <summary>The end of a track, or of what feeds it.</summary>
    private long EndOf(Track target)
    {
        var of = _roles.MadeOf(target);
        var clock = _session.Clock;
        return _session.Tracks.Where(t => of.Contains(t.Id)).SelectMany(t => (t.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => c.End)
            .Concat(t.Parts.Where(p => !p.Muted && p.Notes.Count > 0).Select(p => clock.SampleAt(p.EndQuarter)))).DefaultIfEmpty(0).Max();
    }
}
