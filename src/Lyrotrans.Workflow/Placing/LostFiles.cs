using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Placing;

/// <summary>
/// Sound files whose place was lost: tracks of their own without a time stamp that end long before the session does. They are looked for by their sound in the
/// guide mix that came along, else in the mix of the tracks that have their place.
/// </summary>
public sealed class LostFiles
{
    // What is nearly as long as the session begins with it.
    private const double Shorter = 0.9;
    private readonly Session _session;
    private readonly HashSet<string> _tracks;
    private readonly TrackRoles _roles;

    private LostFiles(Session session, IReadOnlyList<IntakeItem> items)
    {
        _session = session;
        _roles = TrackRoles.Of(session);
        Items = [.. items.Where(IsLost)];
        _tracks = [.. Items.Select(RoleJoin.TrackOf)];
    }

    /// <summary>The files, in the order of the intake.</summary>
    public IReadOnlyList<IntakeItem> Items { get; }

    /// <summary>What they can be looked for in, in words; null where there is nothing.</summary>
    public string? Where => Items.Count == 0 ? null : _roles.Guide?.Name ?? (Placed().Count > 0 ? $"the mix of {Phrases.Count(Placed().Count, "track")}" : null);

    /// <param name="session">What the sources make.</param>
    /// <param name="items">The sources.</param>
    public static LostFiles Of(Session session, IReadOnlyList<IntakeItem> items) => new(session, items);

    /// <summary>Looks for all of them.</summary>
    /// <param name="files">The session's media.</param>
    /// <param name="stop">Heeded all along.</param>
    public IReadOnlyList<FoundFile> Find(IMediaFiles files, CancellationToken stop)
    {
        var opener = new MediaOpener(files, _session.Rate);
        var media = _session.Media.ToDictionary(m => m.Id);
        var sounds = Items.Where(i => media.TryGetValue(i.Id, out var m) && SignalFinder.CanFind(m.Rate, _session.Rate) && files.FileOf(m) is not null).ToList();
        using var sound = Reference(opener);
        if (sound is null || sounds.Count == 0 || !SignalFinder.CanFind(_session.Rate, _session.Rate))
        {
            return [.. Items.Select(i => new FoundFile(i.Id, i.Name, null))];
        }

        using var reference = ScratchSound.Write(files.Scratch, _session.Rate, sound.Channels, new SampleRange(0, _session.EndSample), sound.Sound, stop);
        var places = new SignalFinder(reference.Source).Find([.. sounds.Select(i => (Func<ISampleSource>)(() => opener.Open(media[i.Id])!))], _ => { }, stop);
        var found = sounds.Zip(places).ToDictionary(p => p.First.Id, p => p.Second);
        return [.. Items.Select(i => new FoundFile(i.Id, i.Name, found.GetValueOrDefault(i.Id)))];
    }

    private Looked? Reference(MediaOpener opener)
    {
        if (_roles.Guide is { } guide)
        {
            return new Looked(new TrackRender(_session, guide, opener), guide.Channels);
        }

        var (playing, paths) = (Placed(), SignalPaths.Of(_session));
        if (playing.Count == 0 || paths.Circle is not null)
        {
            return null;
        }

        var render = new MixRender(_session, paths.Master, MixPoint.AfterPan, playing, new MixSounds(opener, new SoundFontSounds()), 0);
        return new Looked(render, render.Channels);
    }

    private HashSet<string> Placed() => _session.Tracks.Where(t => t.State == TrackState.Active && !_tracks.Contains(t.Id) && _roles.Plays(t)).Select(t => t.Id).ToHashSet();

    private bool IsLost(IntakeItem item) => item is { IsSound: true, HasRole: false, Sound: { Frames: > 0, TimeReference: null }, Placement.Rule: PlacementRule.TimeStamp }
        && _session.Tracks.FirstOrDefault(t => t.Id == RoleJoin.TrackOf(item)) is { Kind: TrackKind.Audio } track
        && track.Lanes.SelectMany(l => l.Clips).Select(c => c.End).DefaultIfEmpty(0).Max() < Shorter * _session.EndSample;

    private sealed record Looked(ITrackSound Sound, int Channels) : IDisposable
    {
        public void Dispose() => Sound.Dispose();
    }
}
