using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Running;

/// <summary>How work ended, and why where it failed.</summary>
/// <param name="Outcome">How.</param>
/// <param name="Words">For work that was done, what was done.</param>
/// <param name="Failure">For work that failed, what to tell the engineer.</param>
/// <param name="Problem">For work that failed, what the log should have.</param>
public sealed record WorkEnd(WorkOutcome Outcome, string Words = "", Finding? Failure = null, Exception? Problem = null);
