namespace Lyrotrans.Workflow.Intake;

/// <summary>A rule and, for <see cref="PlacementRule.Offset"/> and <see cref="PlacementRule.Signal"/>, the session sample.</summary>
public sealed record Placement(PlacementRule Rule = PlacementRule.TimeStamp, long Sample = 0);
