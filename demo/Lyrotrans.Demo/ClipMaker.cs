using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Demo;

/// <summary>Cuts the clips of one lane; seconds at scale 1 become samples at 48 kHz.</summary>
internal sealed class ClipMaker(string track, double scale)
{
    private const long EndFade = 960;
    private readonly List<Clip> _clips = [];

    public Clip Add(
        Media media, double at, double length, double from, double gainDb = 0, long fadeIn = 0, long fadeOut = 0,
        FadeShape shape = FadeShape.Linear, int[]? channels = null, string? name = null, bool muted = false)
    {
        var (start, samples) = (Samples(at), Math.Max(2400, Samples(length)));
        var clip = new Clip
        {
            Id = $"{track}-{_clips.Count + 1}",
            Name = name ?? $"{media.Id} {_clips.Count + 1}",
            Media = media.Id,
            ChannelMap = (channels ?? [.. Enumerable.Range(0, media.Channels)]).ToValueArray(),
            Start = start,
            Length = samples,
            SourceOffset = (long)(from * scale * media.Rate.HeaderHz),
            GainDb = gainDb,
            FadeIn = fadeIn > 0 ? new Fade(Math.Min(fadeIn, samples / 3), shape) : Fade.None,
            FadeOut = fadeOut > 0 ? new Fade(Math.Min(fadeOut, samples / 3), shape) : Fade.None,
            Muted = muted,
        };
        _clips.Add(clip);
        return clip;
    }

    /// <summary>Moves the last clip's end over the one that follows, as a crossfade of so many samples around the cut.</summary>
    public void CrossInto(Media media, double length, double from, long overlap, FadeShape shape, double gainDb = 0)
    {
        var before = _clips[^1];
        overlap = Math.Min(overlap, Math.Min(before.Length, Math.Max(2400, Samples(length))) / 3);
        var cut = before.End;
        _clips[^1] = before with { FadeOut = new Fade(overlap, shape) };
        var next = Add(media, 0, length, from, gainDb, 0, EndFade, shape);
        _clips[^1] = next with { Start = cut - overlap, FadeIn = new Fade(overlap, shape) };
    }

    /// <summary>Moves the last clip to so many samples after the one before it.</summary>
    public void PartBy(long samples) => _clips[^1] = _clips[^1] with { Start = _clips[^2].End + samples };

    public Lane Lane(string name) => new(name, _clips.ToValueArray());

    private long Samples(double seconds) => (long)(seconds * scale * 48_000);
}
