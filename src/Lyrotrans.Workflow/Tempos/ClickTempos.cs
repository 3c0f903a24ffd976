using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tempos;

/// <summary>Takes a tempo map out of a click that came along.</summary>
public static class ClickTempos
{
    /// <summary>Tracks of sound files that the map may be read off, those that are or seem to be clicks first.</summary>
    /// <param name="session">What the sources make.</param>
    /// <param name="items">The sources.</param>
    public static IReadOnlyList<Track> Of(Session session, IReadOnlyList<IntakeItem> items)
    {
        var tracks = items.Where(i => i.IsSound).Select(RoleJoin.TrackOf).ToHashSet();
        var clicks = RoleFinder.Propose(session, items).Where(p => p.Role.Kind == RoleKind.Click).Select(p => RoleJoin.TrackOf(items.First(i => i.Id == p.Item))).ToHashSet();
        return [.. session.Tracks.Where(t => tracks.Contains(t.Id) && t.Kind is TrackKind.Audio or TrackKind.Click).OrderBy(t => t.Kind == TrackKind.Click ? 0 : clicks.Contains(t.Id) ? 1 : 2)];
    }

    /// <summary>Reads the map off a track.</summary>
    /// <param name="session">What the sources make.</param>
    /// <param name="track">One of its tracks.</param>
    /// <param name="note">What each click stands for; none finds it out.</param>
    /// <param name="countIn">Whole bars before bar 1; none finds it out by where other sound begins.</param>
    /// <param name="files">The session's media.</param>
    /// <param name="sounds">What was measured of them so far, by media id.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <returns>Null where it is no click.</returns>
    public static ClickMap? Read(Session session, Track track, ClickNote? note, int? countIn, IMediaFiles files, IReadOnlyDictionary<string, MediaSound> sounds, CancellationToken stop)
    {
        var end = track.Sounding?.Clips.Select(c => c.End).DefaultIfEmpty(0).Max() ?? 0;
        using var render = new TrackRender(session, track with { Kind = TrackKind.Audio }, new MediaOpener(files, session.Rate));
        using var file = ScratchSound.Write(files.Scratch, session.Rate, track.Channels, new SampleRange(0, end), render, stop);
        using var source = file.Source();
        return ClickMap.Read(ClickReader.Read(source, stop), session.Rate, note, countIn, FirstSound(session, track, sounds));
    }

    private static long? FirstSound(Session session, Track click, IReadOnlyDictionary<string, MediaSound> sounds)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        var first = session.Tracks.Where(t => t.Id != click.Id && t.State == TrackState.Active && t.Kind is TrackKind.Audio or TrackKind.Print or TrackKind.Stem)
            .SelectMany(t => t.Sounding?.Clips ?? []).Where(c => !c.Muted && sounds.TryGetValue(c.Media, out var s) && s.FirstSound < s.EndOfSound)
            .Select(c => c.Start + Math.Max(0, media[c.Media].Rate.Convert(sounds[c.Media].FirstSound - c.SourceOffset, session.Rate))).ToList();
        return first.Count > 0 ? first.Min() : null;
    }
}
