using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;

namespace Lyrotrans.Core.Flags;

/// <summary>One kind of trouble with all that has it, and what was answered to it.</summary>
/// <param name="Kind">Of all of them.</param>
/// <param name="Flags">At least one, in the order of the session.</param>
/// <param name="Answer">What was answered to some or all of them; null where nothing was.</param>
public sealed record FlagGroup(FlagKind Kind, IReadOnlyList<Flag> Flags, FlagAnswer? Answer)
{
    private readonly HashSet<string> _answered = [.. Answer?.Objects ?? []];

    /// <summary>Whether anything in it was not answered, as it is now.</summary>
    public bool IsOpen => Flags.Any(IsNew);

    /// <summary>What it is, in words: of one what that says, of several how many.</summary>
    public string Title => Flags.Count == 1 ? Flags[0].Title : Kind.Many.Replace("#", Digits.Grouped(Flags.Count), StringComparison.Ordinal);

    /// <summary>The groups of flags, the worst first; open ones before those that were answered.</summary>
    public static IReadOnlyList<FlagGroup> Of(IEnumerable<Flag> flags, IEnumerable<FlagAnswer> answers)
    {
        var by = answers.ToDictionary(a => a.Code);
        var places = FlagKinds.All.Select((k, i) => (k.Code, i)).ToDictionary(k => k.Code, k => k.i);
        return [.. flags.GroupBy(f => f.Kind).Select(g => new FlagGroup(g.Key, [.. g], by.GetValueOrDefault(g.Key.Code))).OrderBy(g => !g.IsOpen).ThenBy(g => places[g.Kind.Code])];
    }

    /// <summary>Whether one of its flags was not answered, as it is now.</summary>
    public bool IsNew(Flag flag) => !_answered.Contains(flag.Sum);

    /// <summary>An answer to all of it.</summary>
    public FlagAnswer Answered(bool accepted, string note) => new(Kind.Code, Title, accepted, note, [.. Flags.Select(f => f.Sum)]);
}
