using Lyrotrans.Core.Findings;

namespace Lyrotrans.Cli;

/// <summary>Says findings and refusals where errors go: the text, then the code that stays the same when the text changes.</summary>
internal static class Said
{
    public static void Print(IEnumerable<Finding> findings)
    {
        foreach (var finding in findings)
        {
            Console.Error.WriteLine($"{finding.Text} ({finding.Code})");
        }
    }
}
