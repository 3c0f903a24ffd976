using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Routing;

/// <summary>
/// The way of the sound through a session: which track feeds which, in an order in which sources come before what they feed, with the latency that reaches
/// every track. A track without an output feeds the master; a session without a master has one of two channels that does nothing. A track that came as a print is
/// that print (<see cref="TrackRoles"/>).
/// </summary>
public sealed class SignalPaths
{
    private readonly Dictionary<string, List<Feed>> _into;
    private readonly Dictionary<string, long> _latencyIn = [];
    private readonly Dictionary<(string From, string To), long?> _tails = [];
    private readonly Dictionary<string, Track> _tracks;
    private readonly Session _session;

    private SignalPaths(Session session)
    {
        _session = session;
        var roles = TrackRoles.Of(session);
        Master = session.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master) ?? new Track { Id = "\nmaster", Name = "Master", Kind = TrackKind.Master, Channels = 2 };
        var tracks = session.Tracks.Where(t => t.Kind is not (TrackKind.Picture or TrackKind.Master or TrackKind.Print or TrackKind.GuideMix or TrackKind.Click)).Append(Master)
            .Select(roles.Sounding).Select(t => t.Channels == 0 || t.Kind == TrackKind.Notes ? t with { Channels = 2 } : t).ToList();
        _tracks = tracks.ToDictionary(t => t.Id);
        Master = _tracks[Master.Id];
        // What feeds a track that came as a print is in it already.
        var feeds = tracks.SelectMany(FeedsOf).Where(f => roles.PrintOf(f.To.Id) is null).ToList();
        _into = feeds.GroupBy(f => f.To.Id).ToDictionary(g => g.Key, g => g.ToList());
        Order = Sorted(tracks, feeds);
        Circle = Order.Count < tracks.Count ? string.Join(", ", tracks.Except(Order).Select(t => t.Name)) : null;
        foreach (var track in Order)
        {
            _latencyIn[track.Id] = Into(track.Id).Select(f => LatencyOut(f.From)).DefaultIfEmpty(0).Max();
        }
    }

    /// <summary>Where everything ends; one that does nothing where the session has none.</summary>
    public Track Master { get; }

    /// <summary>A track as it sounds here: its print where it came as one; notes, and tracks that say no channels, have two.</summary>
    public Track this[string id] => _tracks[id];

    /// <summary>Sources before what they feed; the master last. Tracks that go round in a circle are not in it.</summary>
    public IReadOnlyList<Track> Order { get; }

    /// <summary>Names of tracks that feed each other in a circle, which cannot be rendered; null where there is none.</summary>
    public string? Circle { get; }

    /// <summary>The ways through a session.</summary>
    public static SignalPaths Of(Session session) => new(session);

    /// <summary>Every path that ends in a track.</summary>
    public IReadOnlyList<Feed> Into(string trackId) => _into.TryGetValue(trackId, out var feeds) ? feeds : [];

    /// <summary>Samples by which the latest of its sources reaches a track late; the others wait for it.</summary>
    public long LatencyIn(Track track) => _latencyIn.GetValueOrDefault(track.Id);

    /// <summary>Samples by which a track's sound is late after its effects.</summary>
    public long LatencyOut(Track track) => LatencyIn(track) + track.Inserts.Sum(i => EffectCatalogue.Latency(i, _session.Rate));

    /// <summary>Samples that a track's own effects sound on.</summary>
    public long TailOf(Track track) => track.Inserts.Sum(i => EffectCatalogue.Tail(i, _session.Rate));

    /// <summary>Samples that the sound of a track lives on until the last of it has left the master, or a place before it.</summary>
    /// <param name="track">Where the sound comes from.</param>
    /// <param name="to">Where it is heard.</param>
    /// <returns>Null where no path leads there.</returns>
    public long? TailTo(Track track, Track to)
    {
        if (track.Id == to.Id)
        {
            return TailOf(track);
        }

        if (!_tails.TryGetValue((track.Id, to.Id), out var tail))
        {
            tail = TailOf(track) + Order.SelectMany(t => Into(t.Id)).Where(f => f.From.Id == track.Id).Select(f => TailTo(f.To, to)).Max();
            _tails[(track.Id, to.Id)] = tail;
        }

        return tail;
    }

    /// <summary>The tracks whose sound reaches one, and itself.</summary>
    /// <param name="track">Which one.</param>
    /// <param name="ends">Says of a track that what reaches it does not count, but for other ways; nothing where it is null.</param>
    public IReadOnlySet<string> Upstream(Track track, Func<Track, bool>? ends = null)
    {
        var found = new HashSet<string>();
        var open = new Stack<string>([track.Id]);
        while (open.TryPop(out var id))
        {
            if (found.Add(id) && ends?.Invoke(_tracks[id]) != true)
            {
                foreach (var feed in Into(id))
                {
                    open.Push(feed.From.Id);
                }
            }
        }

        return found;
    }

    private IEnumerable<Feed> FeedsOf(Track track)
    {
        if (track.Id == Master.Id)
        {
            yield break;
        }

        yield return new Feed(track, track.Output is { } output && _tracks.TryGetValue(output, out var to) ? to : Master, null);
        foreach (var send in track.Sends)
        {
            if (_tracks.TryGetValue(send.Target, out var target))
            {
                yield return new Feed(track, target, send);
            }
        }
    }

    private static List<Track> Sorted(List<Track> tracks, List<Feed> feeds)
    {
        var waitsFor = tracks.ToDictionary(t => t.Id, _ => 0);
        foreach (var feed in feeds)
        {
            waitsFor[feed.To.Id]++;
        }

        var from = feeds.ToLookup(f => f.From.Id);
        var ready = new Queue<Track>(tracks.Where(t => waitsFor[t.Id] == 0));
        var sorted = new List<Track>();
        while (ready.TryDequeue(out var track))
        {
            sorted.Add(track);
            foreach (var feed in from[track.Id])
            {
                if (--waitsFor[feed.To.Id] == 0)
                {
                    ready.Enqueue(feed.To);
                }
            }
        }

        return sorted;
    }
}
