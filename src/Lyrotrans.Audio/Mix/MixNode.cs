using Lyrotrans.Audio.Sources;
using System.Numerics.Tensors;
using Lyrotrans.Audio.Effects;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>One track of a render under way: what it plays and what feeds it, through its effects and its fader.</summary>
internal sealed class MixNode : IDisposable
{
    private readonly ITrackSound _sound;
    private readonly IReadOnlyList<IEffect> _effects;
    private readonly Fader _fader;
    private readonly List<(MixNode From, MixFeed Feed)> _into = [];
    private readonly double[] _gains;
    private readonly long _latencyIn;
    private readonly bool _isMade;

    public MixNode(Session session, Track track, SignalPaths paths, ITrackSound sound, int block)
        : this(session, track, paths, sound, block, isMade: false)
    {
    }

    private MixNode(Session session, Track track, SignalPaths paths, ITrackSound sound, int block, bool isMade)
    {
        _isMade = isMade;
        Track = track;
        _sound = sound;
        _effects = isMade ? [] : EffectRack.Of(track.Inserts, session.Rate, track.Channels);
        _fader = new Fader(track.FaderDb, track.FaderAutomation);
        _latencyIn = paths.LatencyIn(track);
        Latency = paths.LatencyOut(track);
        _gains = new double[block];
        BeforeFader = Planar(track.Channels, block);
        AfterFader = Planar(track.Channels, block);
        OwnDelay = Enumerable.Range(0, track.Channels).Select(_ => new DelayLine(_latencyIn)).ToArray();
    }

    /// <summary>A track whose sound after its effects is there already.</summary>
    public static MixNode OfMade(Session session, Track track, SignalPaths paths, ITrackSound sound, int block) => new(session, track, paths, sound, block, isMade: true);

    public Track Track { get; }

    /// <summary>Samples that what is after the effects is late.</summary>
    public long Latency { get; }

    public double[][] BeforeFader { get; }

    public double[][] AfterFader { get; }

    /// <summary>Whether the sound depends on what came before: then a render has to begin at the beginning.</summary>
    public bool HasMemory => _effects.Count > 0 || _into.Any(i => i.Feed.Delay > 0);

    private DelayLine[] OwnDelay { get; }

    /// <summary>0 where nothing feeds it; else one more than the last of those that do.</summary>
    public int Generation { get; private set; }

    public void FeedFrom(MixNode node, MixFeed feed)
    {
        _into.Add((node, feed));
        Generation = Math.Max(Generation, node.Generation + 1);
    }

    /// <summary>Makes the next block; <paramref name="start"/> is the session sample at which nothing is late.</summary>
    public void Run(long start, int count)
    {
        if (_isMade)
        {
            // It lies at its samples, and is late here.
            _sound.Read(start - Latency, count, BeforeFader);
            Faded(start - Latency, count);
            return;
        }

        _sound.Read(start, count, AfterFader);
        for (var c = 0; c < BeforeFader.Length; c++)
        {
            var channel = BeforeFader[c].AsSpan(0, count);
            channel.Clear();
            OwnDelay[c].Add(AfterFader[c], channel, count);
        }

        foreach (var (node, feed) in _into)
        {
            feed.Add(node, start, count, BeforeFader);
        }

        if (Track.Inverted)
        {
            Invert(count);
        }

        foreach (var effect in _effects)
        {
            effect.Process(BeforeFader, count);
        }

        Faded(start - Latency, count);
    }

    public void Dispose() => _sound.Dispose();

    private void Invert(int count)
    {
        foreach (var channel in BeforeFader)
        {
            TensorPrimitives.Negate<double>(channel.AsSpan(0, count), channel);
        }
    }

    private void Faded(long start, int count)
    {
        if (!_fader.IsUnity)
        {
            _fader.Fill(start, count, _gains);
        }

        for (var c = 0; c < BeforeFader.Length; c++)
        {
            var (from, into) = (BeforeFader[c], AfterFader[c]);
            if (_fader.IsUnity)
            {
                from.AsSpan(0, count).CopyTo(into);
                continue;
            }

            TensorPrimitives.Multiply(from.AsSpan(0, count), _gains.AsSpan(0, count), into);
        }
    }

    private static double[][] Planar(int channels, int count) => Enumerable.Range(0, channels).Select(_ => new double[count]).ToArray();
}
