using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A track of a composition.</summary>
public sealed record EditTrack
{
    /// <summary>What our own metadata call it; null where there are none.</summary>
    public string? Id { get; init; }

    public string Name { get; init; } = string.Empty;

    public int Number { get; init; }

    public Rational Length { get; init; }

    public IReadOnlyList<EditClip> Clips { get; init; } = [];

    /// <summary>A linear multiplier.</summary>
    public double Fader { get; init; } = 1;

    public EditCurve FaderAutomation { get; init; } = EditCurve.None;

    /// <summary>0 left, ½ centre, 1 right; null where nothing was said.</summary>
    public double? Pan { get; init; }

    public EditCurve PanAutomation { get; init; } = EditCurve.None;
}
