using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Tests;

/// <summary>Random sessions of everything that a chain format holds, with the identifiers that reading one gives.</summary>
internal sealed class ClipSessions
{
    private readonly Random _random;
    private readonly int _unit;
    private readonly List<Media> _media = [];

    private ClipSessions(int seed, int unit)
    {
        _random = new Random(seed);
        _unit = unit;
    }

    /// <param name="seed">The same gives the same session.</param>
    /// <param name="unit">Samples that every place is a multiple of.</param>
    public static Session Make(int seed, int unit = 1) => new ClipSessions(seed, unit).Make();

    private Session Make()
    {
        var rate = _unit > 1 || _random.Next(2) == 0 ? SampleRate.Hz48000 : SampleRate.Hz44100;
        for (var i = 0; i < _random.Next(1, 5); i++)
        {
            _media.Add(Medium(i, rate));
        }

        var tracks = Enumerable.Range(1, _random.Next(1, 5)).Select(Track).ToValueArray();
        var frames = _unit > 1 ? FrameRate.Fps25 : FrameRate.All[_random.Next(FrameRate.All.Count)];
        var used = tracks.SelectMany(t => t.Lanes[0].Clips).Select(c => c.Media).ToHashSet();
        var start = new Timecode(_random.Next(0, (int)frames.FramesPerDay), frames);
        return new Session
        {
            Name = $"suite ü {_random.Next(100)}",
            Rate = rate,
            Depth = _media.Where(m => used.Contains(m.Id)).Select(m => m.Encoding).DefaultIfEmpty(SampleEncoding.Integer24).Max(),
            Start = start,
            Media = tracks.SelectMany(t => t.Lanes[0].Clips).Select(c => c.Media).Distinct().Select(id => _media.Find(m => m.Id == id)!).ToValueArray(),
            Tracks = tracks,
            Markers = Enumerable.Range(1, _random.Next(4)).Select(i => new Marker($"m{i}", $"place {i}", (i * 96_000) + Place(90_000), _random.Next(2) * Place(5_000)) { By = i < 3 ? $"chair {i} ü" : Marker.Nobody, Date = i > 1 ? $"0{i}.03.31, 10:05" : string.Empty }).ToValueArray(),
            Comments = _random.Next(2) == 0 ? [new Comment("Scene", "dome ü"), new Comment("Reel", "2")] : [],
            Picture = _random.Next(2) == 0 ? new PictureReference("reel one.mov", start with { Frames = start.Frames + _random.Next(100) }, _random.Next(1, 1000)) : null,
        };
    }

    private long Place(int most) => _random.Next(1, Math.Max(2, most / _unit)) * (long)_unit;

    private Media Medium(int index, SampleRate rate)
    {
        var id = $"060a2b340101010501010f2013000000{index:x2}{_random.NextInt64():x16}{_random.NextInt64() & 0xFFFFFFFFFFF:x14}"[..64];
        return new Media
        {
            Id = id,
            FileName = $"medium {index}.wav",
            Rate = rate,
            Encoding = _random.Next(2) == 0 ? SampleEncoding.Integer16 : SampleEncoding.Integer24,
            Channels = _random.Next(1, 4),
            Length = _random.Next(20_000, 90_000),
            Place = MediaPlace.Missing,
            Identifiers = [id],
        };
    }

    private Track Track(int number)
    {
        var channels = _random.Next(2) == 0 ? 1 : _media[_random.Next(_media.Count)].Channels;
        var clips = new List<Clip>();
        for (var i = 0; i < _random.Next(0, 12); i++)
        {
            Add(clips, $"track-{number}-clip-{i + 1}", channels);
        }

        return new Track
        {
            Id = $"track-{number}",
            Name = $"Track ~{number}",
            Channels = clips.Count == 0 ? 1 : channels,
            Lanes = [new Lane("main", clips.ToValueArray())],
            FaderDb = Level(),
            FaderAutomation = Curve(400_000, -60, 12),
            Pan = _random.Next(2) == 0 ? 0 : _random.Next(-1000, 1001) / 1000.0,
            PanAutomation = Curve(400_000, -1, 1),
        };
    }

    private double Level() => _random.Next(2) == 0 ? 0 : _random.Next(-80_000, 12_000) / 1000.0;

    private void Add(List<Clip> clips, string id, int channels)
    {
        var fitting = _media.Where(m => channels == 1 || m.Channels == channels).ToList();
        var media = fitting[_random.Next(fitting.Count)];
        var length = (_unit * 4L) + Place(20_000);
        var before = clips.Count > 0 ? clips[^1] : null;
        var crosses = before is { Muted: false, FadeOut.Length: 0 } && _random.Next(3) == 0 ? Math.Min(before.Length - before.FadeIn.Length, length) / 2 / _unit * _unit : 0;
        var start = (before?.End ?? 0) + (crosses > 0 ? -crosses : _random.Next(3) == 0 ? 0 : Place(9_000));
        if (crosses > 0)
        {
            clips[^1] = before! with { FadeOut = Fade(crosses) };
        }

        var into = crosses > 0 ? Fade(crosses) : _random.Next(2) == 0 ? Core.Sessions.Fade.None : Fade(Math.Max(_unit, length / 3 / _unit * _unit));
        clips.Add(new Clip
        {
            Id = id,
            Name = Path.GetFileNameWithoutExtension(media.FileName),
            Media = media.Id,
            ChannelMap = channels == 1 ? [_random.Next(media.Channels)] : Enumerable.Range(0, channels).ToValueArray(),
            Start = start,
            Length = length,
            SourceOffset = _random.Next(3) == 0 ? 0 : Place(40_000),
            GainDb = Level(),
            GainCurve = Curve((int)length, -60, 12),
            FadeIn = into,
            FadeOut = _random.Next(2) == 0 ? Core.Sessions.Fade.None : Fade(Math.Max(_unit, (length - into.Length) / 3 / _unit * _unit)),
            Muted = crosses == 0 && _random.Next(6) == 0,
        });
    }

    private Fade Fade(long length) => _random.Next(5) switch
    {
        0 => new(length, FadeShape.EqualPower),
        1 => new(length, FadeShape.Logarithmic),
        2 => new(length, FadeShape.S),
        3 when _random.Next(2) == 0 => new(length, FadeShape.Sampled, [0, _random.Next(0, 1 << 20) / (double)(1 << 20), 1], [0, _random.Next(0, 1 << 20) / (double)(1 << 20), 1]),
        3 => new(length, FadeShape.Sampled, Enumerable.Range(0, _random.Next(3, 9)).Select(_ => _random.Next(0, 1 << 20) / (double)(1 << 20)).ToValueArray()),
        _ => new(length),
    };

    private Automation? Curve(int over, int least, int most)
    {
        var places = Enumerable.Range(0, _random.Next(0, 6)).Select(_ => (long)_random.Next(0, over)).Distinct().Order().ToList();
        return places.Count == 0
            ? null
            : new Automation(places.Select(p => new AutomationPoint(p, _random.Next(least * 1000, (most * 1000) + 1) / 1000.0)).ToValueArray(), (Interpolation)_random.Next(2));
    }
}
