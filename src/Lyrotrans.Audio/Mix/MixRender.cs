using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>
/// The sound at one place of a session's signal path: clips and notes through effects, faders, pans, sends, buses and returns. Everything that is late by its
/// effects is waited for, so that all paths meet on their sample, and what comes out is taken back to its place. 64-bit throughout, summed in the session's
/// order, the same whatever the blocks and threads. Read forwards.
/// </summary>
public sealed class MixRender : ITrackSound
{
    // Small enough for the processor's memory; where several make tracks at once, so much longer that they need not wait for each other so often.
    private const int Alone = 2048;
    private const int Together = 16_384;
    private readonly int _block;
    private readonly List<MixNode> _nodes = [];

    // Those of a generation feed only later ones, so they can be made at the same time.
    private readonly MixNode[][] _generations;
    private readonly int _threads;
    private readonly MixNode _target;
    private readonly Panner? _panner;
    private readonly double[][] _made;
    private readonly long _latency;
    private long _next;
    private long _madeStart;
    private int _madeCount;

    /// <param name="session">What is rendered.</param>
    /// <param name="target">Whose sound is taken.</param>
    /// <param name="point">Where.</param>
    /// <param name="sounding">Ids of the tracks that play; the others feed nothing.</param>
    /// <param name="sounds">Media and instruments.</param>
    /// <param name="from">The first session sample that will be read.</param>
    /// <param name="runIn">Samples before it that are enough to know the sound there; what lasts longer is not heard. The whole session, by default.</param>
    /// <param name="threads">How many tracks are made at once; what comes out is the same.</param>
    /// <exception cref="InvalidOperationException">Tracks feed each other in a circle.</exception>
    public MixRender(Session session, Track target, MixPoint point, IReadOnlySet<string> sounding, MixSounds sounds, long from, long runIn = long.MaxValue, int threads = 1)
    {
        var paths = SignalPaths.Of(session);
        if (paths.Circle is { } circle)
        {
            throw new InvalidOperationException($"These tracks feed each other in a circle and cannot be rendered: {circle}.");
        }

        _threads = threads;
        _block = threads > 1 ? Even(Math.Min(Math.Max(0, from), runIn)) : Alone;
        target = paths[target.Id];
        var made = new Dictionary<string, ITrackSound>();
        var upstream = paths.Upstream(target, track => IsMade(track, sounding, sounds, made));
        var nodes = new Dictionary<string, MixNode>();
        foreach (var track in paths.Order.Where(t => upstream.Contains(t.Id)))
        {
            if (made.TryGetValue(track.Id, out var whole))
            {
                Add(nodes, MixNode.OfMade(session, track, paths, whole, _block));
                continue;
            }

            // What nothing sounds into stays silent for ever.
            if (!sounding.Contains(track.Id) && track.Id != target.Id && !paths.Into(track.Id).Any(f => nodes.ContainsKey(f.From.Id)))
            {
                continue;
            }

            var node = new MixNode(session, track, paths, sounding.Contains(track.Id) ? sounds.Of(session, track) : SilentSound.Instance, _block);
            foreach (var feed in paths.Into(track.Id).Where(f => nodes.ContainsKey(f.From.Id)))
            {
                node.FeedFrom(nodes[feed.From.Id], new MixFeed(feed, session.PanLaw, paths.LatencyIn(track) - paths.LatencyOut(feed.From), _block));
            }

            Add(nodes, node);
        }

        _generations = [.. _nodes.GroupBy(n => n.Generation).OrderBy(g => g.Key).Select(g => g.ToArray())];
        _target = nodes[target.Id];
        _latency = _target.Latency;
        _panner = point == MixPoint.AfterPan && target.Channels != 2 ? new Panner(session.PanLaw, target.Channels, 2, target.Pan, target.PanAutomation)
            : point == MixPoint.AfterPan && (target.Pan != 0 || target.PanAutomation is not null) ? new Panner(session.PanLaw, 2, 2, target.Pan, target.PanAutomation)
            : null;
        Point = point;
        Channels = point == MixPoint.AfterPan ? 2 : target.Channels;
        _made = Enumerable.Range(0, Channels).Select(_ => new double[_block]).ToArray();

        // Without memory it can begin anywhere; with it, at the beginning, where everything is silent.
        var lead = _nodes.Any(n => n.HasMemory) ? Math.Min(Math.Max(0, from), runIn) : 0;
        _next = from - lead;
        _madeStart = _next - _latency;
        First = _madeStart;
    }

    /// <summary>The first session sample that can be read.</summary>
    public long First { get; }

    /// <summary>Of what comes out: the track's own, or two after its pan.</summary>
    public int Channels { get; }

    private MixPoint Point { get; }

    /// <summary>Fills <c>into[channel][0 … count)</c> with session samples from <paramref name="start"/> on; starts never go back.</summary>
    public void Read(long start, int count, double[][] into)
    {
        var filled = 0;
        while (filled < count)
        {
            var at = start + filled - _madeStart;
            if (at >= _madeCount)
            {
                Make();
                continue;
            }

            var piece = (int)Math.Min(count - filled, _madeCount - at);
            for (var c = 0; c < Channels; c++)
            {
                _made[c].AsSpan((int)at, piece).CopyTo(into[c].AsSpan(filled));
            }

            filled += piece;
        }
    }

    public void Dispose() => _nodes.ForEach(n => n.Dispose());

    // So that what is run in ends little behind the end of a block: all of it is waited for.
    private static int Even(long lead)
    {
        var all = Math.Min(lead, 16 * Together) + Alone;
        var blocks = (all + Together - 1) / Together;
        return (int)((all + blocks - 1) / blocks);
    }

    private static bool IsMade(Track track, IReadOnlySet<string> sounding, MixSounds sounds, Dictionary<string, ITrackSound> made)
    {
        if (sounds.Made?.Made(track, sounding) is not { } sound)
        {
            return false;
        }

        made.Add(track.Id, sound);
        return true;
    }

    private void Add(Dictionary<string, MixNode> nodes, MixNode node)
    {
        nodes.Add(node.Track.Id, node);
        _nodes.Add(node);
    }

    private void Make(MixNode[] nodes)
    {
        if (_threads > 1 && nodes.Length > 1)
        {
            AtOnce.Each(nodes.Length, i => nodes[i].Run(_next, _block), CancellationToken.None, _threads);
            return;
        }

        foreach (var node in nodes)
        {
            node.Run(_next, _block);
        }
    }

    private void Make()
    {
        _madeStart = _next - _latency;
        foreach (var nodes in _generations)
        {
            Make(nodes);
        }

        _next += _block;
        _madeCount = _block;
        var sound = Point == MixPoint.AfterEffects ? _target.BeforeFader : _target.AfterFader;
        if (_panner is not null)
        {
            _panner.Lay(sound, _madeStart, _block, _made);
            return;
        }

        for (var c = 0; c < Channels; c++)
        {
            sound[c].CopyTo(_made[c], 0);
        }
    }
}
