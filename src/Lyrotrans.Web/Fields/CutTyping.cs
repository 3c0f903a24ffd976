using System.Globalization;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Fields;

/// <summary>Reads how tracks are cut at their silences, as it is typed.</summary>
public static class CutTyping
{
    /// <summary>What is said where it cannot be read.</summary>
    public const string Asks = "Type a threshold below 0 dBFS, or nothing for digital silence; a shortest silence of at least 1 ms; and 0 ms or more for what stays and for the fades.";

    /// <summary>Null where it cannot be.</summary>
    /// <param name="threshold">In dBFS; empty is digital silence.</param>
    /// <param name="shortest">In milliseconds, like the others.</param>
    /// <param name="before">What stays before sound.</param>
    /// <param name="after">What stays after sound.</param>
    /// <param name="fade">Length of the fades.</param>
    public static CutRule? Read(string? threshold, string? shortest, string? before, string? after, string? fade)
    {
        double? level = null;
        if (!string.IsNullOrWhiteSpace(threshold))
        {
            if (!TryRead(threshold, out var db))
            {
                return null;
            }

            level = db;
        }

        return TryRead(shortest, out var s) && TryRead(before, out var b) && TryRead(after, out var a) && TryRead(fade, out var f) && new CutRule(level, s, b, a, f) is { IsPossible: true } rule ? rule : null;
    }

    private static bool TryRead(string? text, out double value) =>
        double.TryParse((text ?? string.Empty).Trim().Replace('−', '-'), NumberStyles.Float, CultureInfo.InvariantCulture, out value) && double.IsFinite(value);
}
