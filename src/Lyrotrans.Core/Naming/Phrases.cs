namespace Lyrotrans.Core.Naming;

/// <summary>Counts and lists as people say them.</summary>
public static class Phrases
{
    private const int MostNamed = 3;

    /// <summary>A count of things, in groups of three: <c>1 clip</c>, <c>1 200 clips</c>.</summary>
    /// <param name="count">How many.</param>
    /// <param name="thing">One of them; more take an s.</param>
    public static string Count(long count, string thing) => $"{Digits.Grouped(count)} {thing}{(count == 1 ? string.Empty : "s")}";

    /// <summary>How many channels sound has: <c>mono</c>, <c>stereo</c>, <c>4 channels</c>.</summary>
    public static string Channels(int channels) => channels switch { 1 => "mono", 2 => "stereo", _ => Count(channels, "channel") };

    /// <summary>One or some things by their numbers: <c>channel 2</c>, <c>channels 2 and 3</c>.</summary>
    /// <param name="thing">One of them; more take an s.</param>
    /// <param name="numbers">At least one.</param>
    public static string Numbered(string thing, IReadOnlyList<int> numbers) => $"{thing}{(numbers.Count == 1 ? string.Empty : "s")} {List([.. numbers.Select(n => Digits.Grouped(n))], "and")}";

    /// <summary>The first few by name: <c>A, B and C</c>, <c>A, B, C and 2 more</c>.</summary>
    /// <param name="names">At least one.</param>
    /// <param name="between">What stands between them, where that is no comma.</param>
    public static string First(IReadOnlyList<string> names, string between = ", ") => names.Count <= MostNamed && between == ", " ? List(names, "and")
        : string.Join(between, names.Take(MostNamed)) + (names.Count > MostNamed ? $" and {Digits.Grouped(names.Count - MostNamed)} more" : string.Empty);

    /// <summary>Some of a kind: <c>A, B or C</c>.</summary>
    /// <param name="items">At least one.</param>
    /// <param name="last">The word before the last, such as <c>or</c>.</param>
    public static string List(IReadOnlyList<string> items, string last) => items.Count == 1 ? items[0] : $"{string.Join(", ", items.SkipLast(1))} {last} {items[^1]}";
}
