namespace Lyrotrans.Workflow.Learning;

/// <summary>A receiver sheet that was proposed from files of the receiving side.</summary>
/// <param name="Json">The sheet; what nothing was seen of is not in it.</param>
/// <param name="Lines">What was seen, and in what.</param>
public sealed record LearntSheet(string Json, IReadOnlyList<LearntLine> Lines);
