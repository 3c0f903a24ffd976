using System.Text.RegularExpressions;

namespace Lyrotrans.Core.Pairing;

/// <summary>A name with its side taken off: <c>Hall.L</c>, <c>Hall_R</c>, <c>Hall (left)</c>, <c>Array 3</c>.</summary>
/// <param name="Base">Without the side.</param>
/// <param name="Channel">From 0.</param>
/// <param name="IsNumber">The side is a number, which may be a count and no channel.</param>
public readonly partial record struct SideName(string Base, int Channel, bool IsNumber)
{
    /// <summary>A name taken apart; null where it says no side.</summary>
    public static SideName? Of(string name)
    {
        var plain = Extension().Replace(name, string.Empty);
        var match = Side().Match(plain);
        if (!match.Success || match.Groups["base"].Value.Trim().Length == 0)
        {
            return null;
        }

        var side = match.Groups["side"].Value.ToUpperInvariant();
        return char.IsAsciiDigit(side[0])
            ? int.TryParse(side, out var number) && number > 0 ? new SideName(match.Groups["base"].Value.Trim(), number - 1, true) : null
            : new SideName(match.Groups["base"].Value.Trim(), side[0] == 'L' ? 0 : 1, false);
    }

    [GeneratedRegex(@"^(?<base>.*?)[\s._\-(\[]+(?<side>left|right|l|r|[0-9]{1,2})[)\]]?$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant, 200)]
    private static partial Regex Side();

    [GeneratedRegex(@"\.(wav|wave|bwf|aif|aiff|aifc|flac)$", RegexOptions.IgnoreCase | RegexOptions.CultureInvariant, 200)]
    private static partial Regex Extension();
}
