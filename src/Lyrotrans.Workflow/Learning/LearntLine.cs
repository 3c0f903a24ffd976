namespace Lyrotrans.Workflow.Learning;

/// <summary>One thing that files of the receiving side show of what it takes.</summary>
/// <param name="What">As people call it.</param>
/// <param name="Value">What was seen, in words; of files that do not agree, all of it.</param>
/// <param name="In">The names of the files that show it.</param>
/// <param name="IsTaken">Whether the proposed sheet asks for it; else it is left open.</param>
public sealed record LearntLine(string What, string Value, IReadOnlyList<string> In, bool IsTaken);
