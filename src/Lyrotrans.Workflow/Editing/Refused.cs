namespace Lyrotrans.Workflow.Editing;

/// <summary>Why a change cannot be made.</summary>
/// <param name="Problem">In words for the engineer.</param>
public sealed record Refused(string Problem);
