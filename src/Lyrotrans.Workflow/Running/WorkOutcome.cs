namespace Lyrotrans.Workflow.Running;

/// <summary>How work ended.</summary>
public enum WorkOutcome
{
    Done,
    Stopped,
    Failed,
}
