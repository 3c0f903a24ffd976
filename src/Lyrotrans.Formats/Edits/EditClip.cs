using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A clip with its places as exact as its format has them. All but the source offset in samples of the composition's rate.</summary>
public sealed record EditClip
{
    /// <summary>What our own metadata call it; null where there are none.</summary>
    public string? Id { get; init; }

    /// <summary>Key of its medium in <see cref="EditComposition.Media"/>.</summary>
    public required string Media { get; init; }

    /// <summary>What its chain calls it; null where nothing does.</summary>
    public string? Name { get; init; }

    /// <summary>From 1; 0 for all channels of the media.</summary>
    public int Channel { get; init; } = 1;

    /// <summary>In samples from position 0.</summary>
    public Rational Start { get; init; }

    /// <summary>In samples, fades included.</summary>
    public Rational Length { get; init; }

    /// <summary>In the media's own samples.</summary>
    public Rational SourceOffset { get; init; }

    /// <summary>A linear multiplier.</summary>
    public double Gain { get; init; } = 1;

    /// <summary>From the clip's start; multiplies the gain.</summary>
    public EditCurve GainCurve { get; init; } = EditCurve.None;

    /// <summary>Of this clip alone, from its start: 0 left, ½ centre, 1 right.</summary>
    public EditCurve Pan { get; init; } = EditCurve.None;

    /// <summary>From its start; null for none.</summary>
    public EditFade? FadeIn { get; init; }

    /// <summary>Up to its end; null for none.</summary>
    public EditFade? FadeOut { get; init; }

    /// <summary>Whether it makes no sound.</summary>
    public bool Muted { get; init; }

    /// <summary>What somebody says of it; empty for nothing.</summary>
    public string Note { get; init; } = string.Empty;

    /// <summary>Other takes for the same place.</summary>
    public IReadOnlyList<EditClip> Alternates { get; init; } = [];

    /// <summary>In samples from position 0.</summary>
    public Rational End => Start + Length;
}
