namespace Lyrotrans.Workflow.Intake;

/// <summary>How a source finds its place on the timeline.</summary>
public enum PlacementRule
{
    /// <summary>By its time stamp; at session start where it has none.</summary>
    TimeStamp,
    SessionStart,

    /// <summary>At a session sample that was typed in.</summary>
    Offset,

    /// <summary>At a session sample where its sound was found.</summary>
    Signal,

    /// <summary>At bar 1, wherever the map that leads has it.</summary>
    Bar1,
}
