using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A span of a media file on the timeline.</summary>
public sealed record Clip
{
    /// <summary>Unique in the session.</summary>
    public required string Id { get; init; }

    /// <summary>As people call it; it need not be unique.</summary>
    public required string Name { get; init; }

    /// <summary>Id of the media.</summary>
    public required string Media { get; init; }

    /// <summary>For each track channel the media channel (from 0) that feeds it.</summary>
    public ValueArray<int> ChannelMap { get; init; } = [0];

    /// <summary>In session samples.</summary>
    public long Start { get; init; }

    /// <summary>In session samples, fades included.</summary>
    public long Length { get; init; }

    /// <summary>Where in the media it begins, in the media's own samples.</summary>
    public long SourceOffset { get; init; }

    /// <summary>Part of a sample of the media by which it begins later in it than at <see cref="SourceOffset"/>, or earlier; only where a session was taken to another rate for its delivery, and in no document.</summary>
    public Rational SourcePart { get; init; }

    /// <summary>In dB; 0 is unity.</summary>
    public double GainDb { get; init; }

    /// <summary>Adds to <see cref="GainDb"/>; points in samples from the clip's start, values in dB.</summary>
    public Automation? GainCurve { get; init; }

    /// <summary>From its start; none is of no length.</summary>
    public Fade FadeIn { get; init; } = Fade.None;

    /// <summary>Up to its end; none is of no length.</summary>
    public Fade FadeOut { get; init; } = Fade.None;

    /// <summary>Whether it makes no sound.</summary>
    public bool Muted { get; init; }

    /// <summary>What somebody says of it to whoever works on: that it is a placeholder; empty for nothing.</summary>
    public string Note { get; init; } = string.Empty;

    /// <summary>Which source said so, and where in it.</summary>
    public string? Source { get; init; }

    /// <summary>One past its last session sample.</summary>
    public long End => Start + Length;

    /// <summary>Whether every sample comes out as it went in: unity gain, no curve, no fades.</summary>
    public bool IsUntouched => GainDb == 0 && GainCurve is null && FadeIn.Length == 0 && FadeOut.Length == 0;

    /// <summary>Media before the clip, in session samples.</summary>
    public long HandleBefore(Media media, SampleRate rate) => media.Rate.Convert(SourceOffset, rate);

    /// <summary>Media after the clip, in session samples; below zero where it runs past the media's end. Its first sample lies on that of the media, whatever the rates.</summary>
    public long HandleAfter(Media media, SampleRate rate) => media.Rate.Convert(media.Length - SourceOffset, rate) - Length;
}
