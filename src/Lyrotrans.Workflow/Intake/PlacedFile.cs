namespace Lyrotrans.Workflow.Intake;

/// <summary>Where a file lies that is brought in, which was found out before.</summary>
/// <param name="Name">Of the file, as it is brought in.</param>
/// <param name="Sample">The session sample that its first lies on.</param>
/// <param name="Rate">Samples a second that it has, as a ratio in text; null where it is what it says.</param>
public sealed record PlacedFile(string Name, long Sample, string? Rate)
{
    /// <summary>Items with the places of those that have one.</summary>
    public static IReadOnlyList<IntakeItem> On(IReadOnlyList<IntakeItem> items, IReadOnlyList<PlacedFile> places)
    {
        // Of two files of one name nobody could say which is meant.
        var known = places.GroupBy(p => p.Name).Where(g => g.Count() == 1 && items.Count(i => i.Name == g.Key) == 1).ToDictionary(g => g.Key, g => g.Single());
        return [.. items.Select(i => i.IsSound && known.TryGetValue(i.Name, out var place) ? i with { Placement = new Placement(PlacementRule.Signal, place.Sample), DeclaredRate = place.Rate ?? i.DeclaredRate } : i)];
    }
}
