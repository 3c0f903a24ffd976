namespace Lyrotrans.Workflow.Intake;

/// <summary>A track that a print or stem stands for; by its name where another source took the place of the one that it came from.</summary>
public sealed record RoleTarget(string Id, string Name);
