namespace Lyrotrans.Workflow.Handing;

/// <summary>A line of a report: something that happened, or that somebody said.</summary>
/// <param name="At">When.</param>
/// <param name="Who">Who, as far as it is known; may be empty.</param>
/// <param name="What">What, in words.</param>
public sealed record ReportLine(DateTimeOffset At, string Who, string What);
