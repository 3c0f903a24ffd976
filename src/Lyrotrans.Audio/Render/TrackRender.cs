using System.Numerics.Tensors;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Render;

/// <summary>
/// The dry sound of a track: the clips of its sounding lane with their gain, gain curves and fades, summed; crossfades are
/// the sum of two faded clips. 64-bit throughout; a sample that needs no arithmetic is not touched.
/// </summary>
public sealed class TrackRender : ITrackSound
{
    // Far behind all sound, and far from where sums of places run over.
    private const long NoEnd = long.MaxValue / 4;

    // Clips overlap at most with their neighbour; two more, so that neighbours of one phase are not converted anew for each other.
    private const int MostConverted = 4;
    private readonly Clip[] _clips;
    private readonly Dictionary<string, Media> _media;
    private readonly Dictionary<string, ISampleSource?> _open = [];
    private readonly List<(string Media, long Phase, ConvertedSource Sound)> _converted = [];
    private readonly IMediaOpener _opener;
    private readonly SampleRate _rate;
    private double[][] _block = [];
    private double[] _gains = [];

    public TrackRender(Session session, Track track, IMediaOpener opener)
    {
        Channels = track.Channels;
        _rate = session.Rate;
        _opener = opener;
        _media = session.Media.ToDictionary(m => m.Id);
        _clips = (track.Sounding?.Clips ?? []).Where(c => !c.Muted).ToArray();
    }

    /// <summary>How many channels come out: those of the track.</summary>
    public int Channels { get; }

    /// <summary>Fills <c>into[channel][0 … count)</c> with session samples from <paramref name="start"/> on.</summary>
    public void Read(long start, int count, double[][] into)
    {
        for (var c = 0; c < Channels; c++)
        {
            into[c].AsSpan(0, count).Clear();
        }

        var end = start + count;
        for (var i = FirstEndingAfter(start); i < _clips.Length && _clips[i].Start < end; i++)
        {
            if (_clips[i].End > start)
            {
                Add(_clips[i], start, end, into);
            }
        }
    }

    /// <summary>The stretch that a session sample lies in; it ends where a clip or a fade begins or ends.</summary>
    public TrackStretch StretchAt(long sample)
    {
        var end = NoEnd;
        Clip? only = null;
        var sounding = 0;
        for (var i = FirstEndingAfter(sample); i < _clips.Length; i++)
        {
            var clip = _clips[i];
            if (clip.Start > sample)
            {
                end = Math.Min(end, clip.Start);
                break;
            }

            if (clip.End > sample)
            {
                sounding++;
                only = clip;
                end = Math.Min(end, NextEdge(clip, sample));
            }
        }

        return new TrackStretch(end, sounding == 1 && IsUntouchedAt(only!, sample) ? only : null, sounding == 0);
    }

    /// <summary>
    /// Copies a clip's samples as bytes, where they lie in its media as they are wanted: the same rate, depth, byte order and channels. What lies past the media is
    /// silence.
    /// </summary>
    /// <returns>False where they do not; nothing is written then.</returns>
    public bool TryCopy(Clip clip, long sample, int count, PcmLayout wanted, Span<byte> into)
    {
        var media = _media[clip.Media];
        if (media.Rate != _rate || !IsStraight(clip.ChannelMap, media.Channels) || Source(media) is not PcmSource source
            || source.Layout.Encoding != wanted.Encoding || source.Layout.BigEndian != wanted.BigEndian || source.Channels != wanted.Channels)
        {
            return false;
        }

        source.ReadBytes(clip.SourceOffset + (sample - clip.Start), count, into);
        return true;
    }

    private static bool IsStraight(Core.Collections.ValueArray<int> map, int channels)
    {
        for (var c = 0; c < map.Count; c++)
        {
            if (map[c] != c)
            {
                return false;
            }
        }

        return map.Count == channels;
    }

    private static bool IsUntouchedAt(Clip clip, long sample) =>
        clip.GainDb == 0 && clip.GainCurve is null && sample >= clip.Start + clip.FadeIn.Length && sample < clip.End - clip.FadeOut.Length;

    private static long NextEdge(Clip clip, long sample) =>
        sample < clip.Start + clip.FadeIn.Length ? Math.Min(clip.End, clip.Start + clip.FadeIn.Length)
        : sample < clip.End - clip.FadeOut.Length ? clip.End - clip.FadeOut.Length
        : clip.End;

    public void Dispose()
    {
        foreach (var source in _open.Values)
        {
            source?.Dispose();
        }
    }

    /// <summary>Whether any sample of the track's print needs arithmetic: gain, a fade, or another rate.</summary>
    public static bool NeedsArithmetic(Session session, Track track)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        return (track.Sounding?.Clips ?? []).Any(c => !c.Muted && (!c.IsUntouched || media[c.Media].Rate != session.Rate));
    }

    /// <summary>The finest depth of the media that the track's clips use.</summary>
    public static int Precision(Session session, Track track)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        return (track.Sounding?.Clips ?? []).Where(c => !c.Muted).Select(c => media[c.Media].Encoding.Precision()).DefaultIfEmpty(0).Max();
    }

    // Clips ascend by start and overlap at most with their neighbour, so their ends ascend nearly too: step back one.
    private int FirstEndingAfter(long sample)
    {
        var low = 0;
        var high = _clips.Length;
        while (low < high)
        {
            var middle = (low + high) / 2;
            if (_clips[middle].End <= sample)
            {
                low = middle + 1;
            }
            else
            {
                high = middle;
            }
        }

        return Math.Max(0, low - 1);
    }

    private void Add(Clip clip, long start, long end, double[][] into)
    {
        var media = _media[clip.Media];
        if (Source(media) is not { } source)
        {
            return;
        }

        var from = Math.Max(start, clip.Start);
        var count = (int)(Math.Min(end, clip.End) - from);
        Grow(source.Channels, count);
        if (media.Rate == _rate)
        {
            source.Read(clip.SourceOffset + (from - clip.Start), count, _block);
        }
        else
        {
            // The very sample that it begins at lies on its first sample, not the nearest of the converted ones.
            var (phase, place) = new RateGrid(media.Rate, _rate).Anchor(clip.SourceOffset, clip.SourcePart);
            Converted(media, source, phase).Read(place + (from - clip.Start), count, _block);
        }

        var gained = Gains(clip, from - clip.Start, count);
        for (var c = 0; c < Channels; c++)
        {
            var input = _block[clip.ChannelMap[c]].AsSpan(0, count);
            var output = into[c].AsSpan((int)(from - start), count);
            if (gained)
            {
                TensorPrimitives.MultiplyAdd(input, _gains.AsSpan(0, count), output, output);
            }
            else
            {
                TensorPrimitives.Add(input, output, output);
            }
        }
    }

    /// <summary>Computes the gain of each sample, and says whether any differs from 1.</summary>
    private bool Gains(Clip clip, long at, int count)
    {
        var inFade = at < clip.FadeIn.Length;
        var inFadeOut = at + count > clip.Length - clip.FadeOut.Length;
        if (clip.GainDb == 0 && clip.GainCurve is null && !inFade && !inFadeOut)
        {
            return false;
        }

        var gain = Decibels.ToRatio(clip.GainDb);
        for (var i = 0; i < count; i++)
        {
            var place = at + i;
            var value = clip.GainCurve is { } curve ? gain * Decibels.ToRatio(curve.ValueAt(place)) : gain;
            if (place < clip.FadeIn.Length)
            {
                value *= clip.FadeIn.GainAt(place);
            }

            if (place >= clip.Length - clip.FadeOut.Length)
            {
                value *= clip.FadeOut.GainAt(clip.Length - 1 - place);
            }

            _gains[i] = value;
        }

        return true;
    }

    private ISampleSource? Source(Media media)
    {
        if (!_open.TryGetValue(media.Id, out var source))
        {
            source = _open[media.Id] = _opener.Open(media);
        }

        return source;
    }

    private ConvertedSource Converted(Media media, ISampleSource source, long phase)
    {
        var at = _converted.FindIndex(c => c.Media == media.Id && c.Phase == phase);
        var found = at < 0 ? (media.Id, phase, new ConvertedSource(source, _rate, phase)) : _converted[at];
        if (at >= 0 || _converted.Count == MostConverted)
        {
            _converted.RemoveAt(Math.Max(0, at));
        }

        // The last one that was needed goes last.
        _converted.Add(found);
        return found.Item3;
    }

    private void Grow(int channels, int count)
    {
        if (_block.Length < channels || _gains.Length < count)
        {
            var size = Math.Max(count, _gains.Length);
            _gains = new double[size];
            _block = Enumerable.Range(0, Math.Max(channels, _block.Length)).Select(_ => new double[size]).ToArray();
        }
    }
}
