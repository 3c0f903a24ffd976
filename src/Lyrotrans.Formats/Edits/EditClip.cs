using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A clip with its places as exact as its format has them. All but the source offset in samples of the composition's rate.</summary>
public sealed record EditClip
{
    /// <summary>What our own metadata call it; null where there are none.</summary>
    public string? Id { get; init; }

    public required string Media { get; init; }

    /// <summary>What its chain calls it; null where nothing does.</summary>
    public string? Name { get; init; }

    /// <summary>From 1; 0 for all channels of the media.</summary>
    public int Channel { get; init; } = 1;

    public Rational Start { get; init; }

    public Rational Length { get; init; }

    /// <summary>In the media's own samples.</summary>
    public Rational SourceOffset { get; init; }

    /// <summary>A linear multiplier.</summary>
    public double Gain { get; init; } = 1;

    /// <summary>From the clip's start; multiplies the gain.</summary>
    public EditCurve GainCurve { get; init; } = EditCurve.None;

    /// <summary>Of this clip alone, from its start: 0 left, ½ centre, 1 right.</summary>
    public EditCurve Pan { get; init; } = EditCurve.None;

    public EditFade? FadeIn { get; init; }

    public EditFade? FadeOut { get; init; }

    public bool Muted { get; init; }

    /// <summary>Other takes for the same place.</summary>
    public IReadOnlyList<EditClip> Alternates { get; init; } = [];

    public Rational End => Start + Length;
}
