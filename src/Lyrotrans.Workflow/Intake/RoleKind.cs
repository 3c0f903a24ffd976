namespace Lyrotrans.Workflow.Intake;

/// <summary>What a sound file can be.</summary>
public enum RoleKind
{
    /// <summary>A track of its own, or media of a document.</summary>
    Track,
    Print,
    Stem,
    GuideMix,
    Click,
}
