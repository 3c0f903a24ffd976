namespace Lyrotrans.Formats.Edits;

/// <summary>A value that changes over time.</summary>
public sealed record EditCurve(IReadOnlyList<EditPoint> Points, EditBetween Between)
{
    public static EditCurve None { get; } = new([], EditBetween.Straight);

    public bool IsEmpty => Points.Count == 0;
}
