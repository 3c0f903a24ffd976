using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Running;

/// <summary>Codes of work that failed for another reason than its input.</summary>
public static class WorkCodes
{
    /// <summary>A file could not be read or written: no room, no rights, or a disk that fails.</summary>
    public static readonly FindingCode Files = new("work.files");

    /// <summary>The room has too little space left for what the work makes.</summary>
    public static readonly FindingCode NoRoom = new("work.no-room");

    /// <summary>The database could not be reached or refused what was asked.</summary>
    public static readonly FindingCode Database = new("work.database");

    /// <summary>The program failed at the work; its log has more under the number that is said.</summary>
    public static readonly FindingCode Fault = new("work.fault");

    /// <summary>The work was begun several times, and each time the program ended before it did.</summary>
    public static readonly FindingCode Died = new("work.died");
}
