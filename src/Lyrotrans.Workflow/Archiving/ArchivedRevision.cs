namespace Lyrotrans.Workflow.Archiving;

/// <summary>A revision as an archive has it.</summary>
/// <param name="Number">1, 2, 3 … in the order of making.</param>
/// <param name="Parent">The one that it was made from; 0 is the empty beginning.</param>
/// <param name="Words">What changed.</param>
/// <param name="Name">What engineers call it; may be empty.</param>
/// <param name="By">Who made it.</param>
/// <param name="At">When.</param>
/// <param name="Intake">The SHA-256 of its intake document.</param>
/// <param name="Session">The SHA-256 of its session document.</param>
/// <param name="Receivers">The SHA-256 of its document of receivers.</param>
public sealed record ArchivedRevision(int Number, int Parent, string Words, string Name, string By, DateTimeOffset At, string Intake, string Session, string Receivers);
