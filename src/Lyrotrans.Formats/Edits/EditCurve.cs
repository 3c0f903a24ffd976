namespace Lyrotrans.Formats.Edits;

/// <summary>A value that changes over time.</summary>
public sealed record EditCurve(IReadOnlyList<EditPoint> Points, EditBetween Between)
{
    /// <summary>No points: nothing changes.</summary>
    public static EditCurve None { get; } = new([], EditBetween.Straight);

    /// <summary>Whether there are no points.</summary>
    public bool IsEmpty => Points.Count == 0;
}
