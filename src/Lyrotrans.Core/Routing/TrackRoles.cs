using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Routing;

/// <summary>
/// What sound that was made elsewhere stands for in a session. A print takes the place of a track, bus or return: its clips, notes and effects and what feeds it
/// are in the print; its fader, pan and sends go on. A stem takes the place of its tracks on the way to the master. A guide mix and a click play in nothing.
/// </summary>
public sealed class TrackRoles
{
    private readonly Session _session;
    private readonly Dictionary<string, Track> _prints;
    private readonly HashSet<string> _inStems;

    private TrackRoles(Session session)
    {
        _session = session;
        _prints = session.Tracks.Where(t => t.Kind == TrackKind.Print).SelectMany(t => t.Of.Select(of => (of, t))).DistinctBy(p => p.of).ToDictionary(p => p.of, p => p.t);
        _inStems = [.. session.Tracks.Where(t => t.Kind == TrackKind.Stem).SelectMany(t => t.Of.Concat(t.Of.SelectMany(of => FeedersOf(of, withSends: false))))];
        Guide = session.Tracks.FirstOrDefault(t => t.Kind == TrackKind.GuideMix);
    }

    /// <summary>The guide mix that came along; null where none did.</summary>
    public Track? Guide { get; }

    /// <summary>What stands for what in a session.</summary>
    public static TrackRoles Of(Session session) => new(session);

    /// <summary>The print that takes a track's place; null where there is none.</summary>
    public Track? PrintOf(string track) => _prints.GetValueOrDefault(track);

    /// <summary>Whether a track's sound is in a stem that came along, so that it does not go into the mix by itself.</summary>
    public bool IsInStem(string track) => _inStems.Contains(track);

    /// <summary>What a track that was made elsewhere is: "print of Celesta".</summary>
    public string Words(Track track) => track.Of.Count == 0 ? track.Kind.Words() : $"{track.Kind.Words()} of {Phrases.List([.. track.Of.Select(NameOf)], "and")}";

    /// <summary>A track as it sounds: one with a print is that print, without effects and notes; a stem is its clips.</summary>
    public Track Sounding(Track track) => PrintOf(track.Id) is { } print
        ? Without(print.Holds, track with { Kind = TrackKind.Audio, Channels = print.Channels, Inverted = false, Inserts = [], Lanes = print.Lanes, SoundingLane = print.SoundingLane, Parts = [] })
        : track.Kind == TrackKind.Stem ? track with { Kind = TrackKind.Audio } : track;

    // What the print has in it is not done again.
    private static Track Without(PrintHolds holds, Track track) => holds switch
    {
        PrintHolds.Level => track with { FaderDb = 0, FaderAutomation = null },
        PrintHolds.Mix => track with { FaderDb = 0, FaderAutomation = null, Pan = 0, PanAutomation = null },
        _ => track,
    };

    /// <summary>Whether a track has sound of its own in the mix.</summary>
    public bool Plays(Track track) => !IsInStem(track.Id) && !IsEmpty(track) && (track.Kind.IsSource() || track.Kind == TrackKind.Stem || PrintOf(track.Id) is not null);

    /// <summary>The tracks with sound or notes of their own that a track's sound is made of: itself, those that feed it, or those that a stem stands for.</summary>
    public IReadOnlySet<string> MadeOf(Track track) =>
        (track.Kind == TrackKind.Stem ? track.Of.Concat(track.Of.SelectMany(of => FeedersOf(of, withSends: false))) : FeedersOf(track.Id, withSends: true).Append(track.Id)).ToHashSet();

    private string NameOf(string id) => _session.Tracks.FirstOrDefault(t => t.Id == id)?.Name ?? id;

    private bool IsEmpty(Track track) => !Sounding(track).HasContent;

    /// <summary>All tracks that feed one, by others too.</summary>
    private List<string> FeedersOf(string track, bool withSends)
    {
        var (found, open) = (new List<string>(), new Stack<string>([track]));
        while (open.TryPop(out var id))
        {
            foreach (var feeder in _session.Tracks.Where(t => t.Output == id || (withSends && t.Sends.Any(s => s.Target == id))).Select(t => t.Id).Where(f => f != track && !found.Contains(f)))
            {
                found.Add(feeder);
                open.Push(feeder);
            }
        }

        return found;
    }
}
