using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Learning;

/// <summary>Codes of files that nothing could be learnt from.</summary>
public static class LearningCodes
{
    /// <summary>A file that was given to learn a receiver sheet from shows nothing of one.</summary>
    public static readonly FindingCode NothingToLearn = new("sheet.nothing-to-learn");
}
