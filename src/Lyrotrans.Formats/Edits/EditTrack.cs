using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Edits;

/// <summary>A track of a composition.</summary>
public sealed record EditTrack
{
    /// <summary>What our own metadata call it; null where there are none.</summary>
    public string? Id { get; init; }

    /// <summary>As the file calls it; empty where it has none.</summary>
    public string Name { get; init; } = string.Empty;

    /// <summary>As the file counts it; 0 where it does not.</summary>
    public int Number { get; init; }

    /// <summary>In samples.</summary>
    public Rational Length { get; init; }

    /// <summary>In the order of the track.</summary>
    public IReadOnlyList<EditClip> Clips { get; init; } = [];

    /// <summary>A linear multiplier.</summary>
    public double Fader { get; init; } = 1;

    /// <summary>Linear multipliers over samples.</summary>
    public EditCurve FaderAutomation { get; init; } = EditCurve.None;

    /// <summary>0 left, ½ centre, 1 right; null where nothing was said.</summary>
    public double? Pan { get; init; }

    /// <summary>0 left, ½ centre, 1 right, over samples.</summary>
    public EditCurve PanAutomation { get; init; } = EditCurve.None;
}
