using System.Data.Common;
using System.Text.RegularExpressions;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;

namespace Lyrotrans.Workflow.Running;

/// <summary>What an engineer is told of an exception.</summary>
public static partial class Failure
{
    /// <summary>What was said for people is passed on; of anything else the kind is said, and a number to find it by in the log.</summary>
    public static Finding Of(Exception problem) => problem switch
    {
        ISaid said => said.Finding,
        AggregateException { InnerExceptions: [var only] } => Of(only),
        IOException or UnauthorizedAccessException => new Finding(WorkCodes.Files, string.Empty, WithoutFolders(problem.Message)),
        DbException or TimeoutException => new Finding(WorkCodes.Database, string.Empty, "The database could not be reached, or refused what was asked. Nothing was changed; begin again."),
        { InnerException: { } inner } when Of(inner) is var finding && finding.Code != WorkCodes.Fault => finding,
        _ => Fault(Guid.NewGuid().ToString("N")[..8]),
    };

    private static Finding Fault(string number) =>
        new(WorkCodes.Fault, number, $"The program failed at it. Nothing was changed; begin again, and report the number {number} if it fails once more.");

    // Where a server keeps its files is nobody's business; the name says enough to whoever gave it.
    private static string WithoutFolders(string words) => Quoted().Replace(words, m => $"'{Path.GetFileName(m.Groups[1].Value.TrimEnd('/'))}'");

    [GeneratedRegex("'(/[^'\n]*)'")]
    private static partial Regex Quoted();
}
