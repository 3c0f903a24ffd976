namespace Lyrotrans.Core.Preparing;

/// <summary>What a receiver sheet asks for beside choices: what the room can take, which a session may or may not keep to.</summary>
/// <param name="Name">The sheet's.</param>
public sealed record SheetTerms(string Name)
{
    /// <summary>The shortest bound of names that a sheet can set, in characters.</summary>
    public const int ShortestName = 4;

    /// <summary>What else people should know; may be empty.</summary>
    public string Notes { get; init; } = string.Empty;

    /// <summary>The largest file that it takes, in bytes; none is any.</summary>
    public long? LargestFile { get; init; }

    /// <summary>The longest name of a track or file without its extension, in characters; none is any.</summary>
    public long? LongestName { get; init; }

    /// <summary>Which characters names may have.</summary>
    public NameLetters Letters { get; init; }

    /// <summary>Samples a second; none is the session's.</summary>
    public long? Rate { get; init; }

    /// <summary>By name; none is the session's.</summary>
    public string? FrameRate { get; init; }

    /// <summary>Formats of clips, best first, parted by commas; none is any.</summary>
    public string? Formats { get; init; }

    /// <summary>The same one by one; empty is any.</summary>
    public IReadOnlyList<string> FormatIds => (Formats ?? string.Empty).Split(',', StringSplitOptions.TrimEntries | StringSplitOptions.RemoveEmptyEntries);

    /// <summary>The timecode at which all files start; none is the session's.</summary>
    public string? Start { get; init; }

    /// <summary>Whether clips that are muted are read there as what they are.</summary>
    public bool MutedClips { get; init; }

    /// <summary>How files are laid out.</summary>
    public FolderLayout Folders { get; init; }

    /// <summary>What the picture should be beside what can be chosen, in words; none asks for none.</summary>
    public string? Picture { get; init; }
}
