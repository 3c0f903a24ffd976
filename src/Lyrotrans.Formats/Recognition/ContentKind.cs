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
    Picture,

    /// <summary>Material Exchange Format (SMPTE ST 377-1); recognised, so that it can be said what it is, and not read.</summary>
    Mxf,

    /// <summary>Markers as delimited text.</summary>
    MarkerList,
}
