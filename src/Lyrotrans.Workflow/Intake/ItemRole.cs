namespace Lyrotrans.Workflow.Intake;

/// <summary>What a sound file that was brought in is.</summary>
/// <param name="Kind">Its kind.</param>
/// <param name="Of">For a print or a stem, the tracks that it stands for.</param>
public sealed record ItemRole(RoleKind Kind, IReadOnlyList<RoleTarget> Of);
