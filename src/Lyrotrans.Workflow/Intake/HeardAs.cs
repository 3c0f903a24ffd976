namespace Lyrotrans.Workflow.Intake;

/// <summary>What a sound file sounds like when it is held to what is made here, at the same place.</summary>
/// <param name="Kind">What it would be.</param>
/// <param name="Of">For a print or a stem, the track whose sound it is like; null for a guide mix.</param>
/// <param name="Correlation">From 0 to 1, over the whole session.</param>
public sealed record HeardAs(RoleKind Kind, RoleTarget? Of, double Correlation);
