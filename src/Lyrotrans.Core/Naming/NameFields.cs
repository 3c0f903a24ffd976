namespace Lyrotrans.Core.Naming;

/// <summary>What the fields of a <see cref="NamePattern"/> stand for, for one file. A text that is empty says nothing, and takes what parts it from the rest with it.</summary>
/// <param name="Order">Its number, from 1.</param>
/// <param name="Digits">At least so many digits in the number.</param>
/// <param name="Track">The name of its track.</param>
/// <param name="Session">The name of the session.</param>
public sealed record NameFields(int Order, int Digits, string Track, string Session)
{
    /// <summary>The take that sounds, of several.</summary>
    public string Take { get; init; } = string.Empty;

    /// <summary>The stem that it goes into.</summary>
    public string Group { get; init; } = string.Empty;

    /// <summary>What became of its track, in a word.</summary>
    public string Treatment { get; init; } = string.Empty;

    /// <summary>Quarters a minute, where they do not change.</summary>
    public string Tempo { get; init; } = string.Empty;

    /// <summary>Such as <c>Dm</c>, where it does not change.</summary>
    public string Key { get; init; } = string.Empty;

    /// <summary>Such as <c>48k</c>.</summary>
    public string Rate { get; init; } = string.Empty;

    /// <summary>Such as <c>24bit</c>.</summary>
    public string Depth { get; init; } = string.Empty;

    /// <summary>As it was typed in.</summary>
    public string Version { get; init; } = string.Empty;

    /// <summary>Of the revision, such as <c>2026-03-21</c>.</summary>
    public string Date { get; init; } = string.Empty;
}
