using Lyrotrans.Core.Naming;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Roles;

/// <summary>
/// Holds sound files that nobody decided on to the dry sound of each track, to each bus and return, and to the sum: whatever a file is called, what it is heard to be can be proposed. Where there are
/// only files, each is held to the sum of the others.
/// </summary>
/// <param name="session">With a track for each file.</param>
/// <param name="items">What was brought in.</param>
/// <param name="files">The session's media.</param>
/// <param name="stop">Heeded all along.</param>
public sealed class RoleEars(Session session, IReadOnlyList<IntakeItem> items, IMediaFiles files, CancellationToken stop)
{
    // Parts of one piece that keep time with each other are a little alike, but not in their phases.
    private const double LeastAlike = 0.3;
    private const double LeastClear = 12;
    private const double LeastAhead = 0.1;

    // A sum of two is too like either.
    private const int FewestForSum = 3;

    // So many sketches take about 400 MB.
    private const int AtATime = 256;
    private readonly MediaOpener _opener = new(files, session.Rate);
    private readonly Dictionary<string, Track> _tracks = session.Tracks.ToDictionary(t => t.Id);
    private readonly HashSet<string> _fileTracks = [.. items.Select(RoleJoin.TrackOf)];
    private readonly TrackRoles _roles = TrackRoles.Of(session);

    /// <summary>By item, what it was heard to be; nothing of those that are like nothing, or like several things alike.</summary>
    public IReadOnlyDictionary<string, HeardAs> Hear()
    {
        var heard = new Dictionary<string, HeardAs>();
        if (session.EndSample <= 0 || !SignalFinder.CanFind(session.Rate, session.Rate))
        {
            return heard;
        }

        foreach (var part in items.Where(IsOpen).Chunk(AtATime))
        {
            Hear(part, heard);
        }

        return heard;
    }

    private bool IsOpen(IntakeItem item) => item is { IsSound: true, Role: null, Sound.Frames: > 0 } && _tracks.GetValueOrDefault(RoleJoin.TrackOf(item)) is { Kind: TrackKind.Audio } && !NameWords.SaysClick(NameWords.Of(item.Name));

    private void Hear(IntakeItem[] part, Dictionary<string, HeardAs> heard)
    {
        var sketches = AtOnce.Select(part, i => Sketch(_tracks[RoleJoin.TrackOf(i)]), stop);
        var found = part.Select(_ => new List<HeardAs>()).ToList();
        foreach (var (role, sum) in Things())
        {
            stop.ThrowIfCancellationRequested();
            if (Sketch(role, sum) is not { } thing)
            {
                continue;
            }

            AtOnce.Each(part.Length, i =>
            {
                if (sketches[i] is { } sketch && (role.Kind != RoleKind.GuideMix || part[i].Sound!.Channels == 2))
                {
                    var (correlation, clear) = sketch.LikenessTo(sum.Of.Contains(RoleJoin.TrackOf(part[i])) ? thing.Without(sketch) : thing);
                    found[i].Add(new HeardAs(role.Kind, role.Of.SingleOrDefault(), clear >= LeastClear ? Math.Round(correlation, 3) : 0));
                }
            }, stop);
        }

        for (var i = 0; i < part.Length; i++)
        {
            if (Clear(found[i]) is { } best)
            {
                heard[part[i].Id] = best;
            }
        }
    }

    private static HeardAs? Clear(List<HeardAs> found)
    {
        var ranked = found.OrderByDescending(h => h.Correlation).Take(2).ToList();
        return ranked.Count > 0 && ranked[0].Correlation >= LeastAlike && (ranked.Count == 1 || ranked[0].Correlation - ranked[1].Correlation >= LeastAhead) ? ranked[0] : null;
    }

    /// <summary>What files can be, and the session that it is made of.</summary>
    private IEnumerable<(ItemRole Role, (Session Session, HashSet<string> Of) Sum)> Things()
    {
        var own = session.Tracks.Where(t => !_fileTracks.Contains(t.Id)).ToList();
        var alone = session with { Tracks = [.. session.Tracks.Where(t => !_fileTracks.Contains(t.Id) || t.Kind.HasRole())] };
        foreach (var track in own.Where(t => _roles.PrintOf(t.Id) is null))
        {
            if (track.Kind is TrackKind.Audio or TrackKind.Return or TrackKind.Bus)
            {
                yield return (new ItemRole(track.Kind == TrackKind.Bus ? RoleKind.Stem : RoleKind.Print, [new RoleTarget(track.Id, track.Name)]), (alone, []));
            }
        }

        var files = session.Tracks.Where(t => _fileTracks.Contains(t.Id) && t.Kind == TrackKind.Audio).Select(t => t.Id).ToHashSet();
        if (_roles.Guide is null && (own.Any(t => t.Kind.IsSource()) || files.Count >= FewestForSum))
        {
            yield return (new ItemRole(RoleKind.GuideMix, []), own.Any(t => t.Kind.IsSource()) ? (alone, []) : (session, files));
        }
    }

    private SoundSketch? Sketch(Track track)
    {
        try
        {
            return Sketch(new TrackSource(new TrackRender(session, track, _opener), track.Channels, session.Rate, session.EndSample));
        }
        catch (BadInputException)
        {
            // It is damaged, which was said when it was measured.
            return null;
        }
    }

    private SoundSketch? Sketch(ItemRole role, (Session Session, HashSet<string> Of) sum)
    {
        try
        {
            if (RoleSounds.Made(sum.Session, string.Empty, role, _opener) is not { } made)
            {
                return null;
            }

            using (made.Sound)
            {
                using var written = ScratchSound.Write(files.Scratch, session.Rate, made.Channels, new SampleRange(0, session.EndSample), made.Sound, stop);
                return Sketch(written.Source());
            }
        }
        catch (Exception problem) when (problem is BadInputException or InvalidOperationException)
        {
            // A medium is damaged, or no stand-in sounds here: nothing is held to it, and what came in is in.
            return null;
        }
    }

    private SoundSketch Sketch(ISampleSource sound) => SoundSketch.Of(sound, session.Rate.SecondsOf(session.EndSample).ToDouble(), stop);
}
