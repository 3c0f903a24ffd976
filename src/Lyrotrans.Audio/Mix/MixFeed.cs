using System.Numerics.Tensors;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Audio.Mix;

/// <summary>
/// A path into a track, under way: a send's level, the pan, and the wait for later paths. An output has the track's own pan; a send takes the sound before or
/// after the fader and has a pan of its own.
/// </summary>
internal sealed class MixFeed
{
    private readonly Fader _level;
    private readonly bool _preFader;
    private readonly Panner _panner;
    private readonly DelayLine[] _delays;
    private readonly double[][] _laid;
    private readonly double[][] _levelled;
    private readonly double[] _gains;

    public MixFeed(Feed feed, PanLaw law, long delay, int block)
    {
        Delay = delay;
        _level = feed.Send is { } send ? new Fader(send.LevelDb, send.LevelAutomation) : new Fader(0, null);
        _preFader = feed.Send?.PreFader ?? false;
        _panner = feed.Send is null
            ? new Panner(law, feed.From.Channels, feed.To.Channels, feed.From.Pan, feed.From.PanAutomation)
            : new Panner(law, feed.From.Channels, feed.To.Channels, feed.Send.Pan, null);
        _delays = Enumerable.Range(0, feed.To.Channels).Select(_ => new DelayLine(delay)).ToArray();
        _laid = Enumerable.Range(0, feed.To.Channels).Select(_ => new double[block]).ToArray();
        _levelled = Enumerable.Range(0, feed.From.Channels).Select(_ => new double[block]).ToArray();
        _gains = new double[block];
    }

    /// <summary>Samples that it waits.</summary>
    public long Delay { get; }

    public void Add(MixNode from, long start, int count, double[][] into)
    {
        var sound = _preFader ? from.BeforeFader : from.AfterFader;
        if (!_level.IsUnity)
        {
            _level.Fill(start - from.Latency, count, _gains);
            for (var c = 0; c < sound.Length; c++)
            {
                TensorPrimitives.Multiply(sound[c].AsSpan(0, count), _gains.AsSpan(0, count), _levelled[c]);
            }

            sound = _levelled;
        }

        _panner.Lay(sound, start - from.Latency, count, _laid);
        for (var c = 0; c < into.Length; c++)
        {
            _delays[c].Add(_laid[c], into[c], count);
        }
    }
}
