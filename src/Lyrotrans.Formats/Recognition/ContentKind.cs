namespace Lyrotrans.Formats.Recognition;

/// <summary>What a file is, by its content.</summary>
public enum ContentKind
{
    Empty,
    Unknown,
    Wave,
    Aiff,
    Flac,
    Ogg,
    Mp3,
    Midi,
    Zip,

    /// <summary>It says a session; in which format, the registry knows.</summary>
    Session,
    /// <summary>QuickTime and MP4, which may hold sound too.</summary>
    Picture,

    /// <summary>Material Exchange Format (SMPTE ST 377-1), which may hold sound and picture; one that holds picture is a <see cref="Picture"/> once that is known.</summary>
    Container,

    /// <summary>Markers as delimited text.</summary>
    MarkerList,

    /// <summary>What only says something of the other files of a package, by its place there and not by its content: its manifest, its sheet.</summary>
    Record,
}
