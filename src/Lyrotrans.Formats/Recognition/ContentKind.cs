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
    OpenSession,
    CompoundFile,

    /// <summary>An OMF file of version 1 or 2.</summary>
    Omf,

    /// <summary>An OTIO document.</summary>
    Otio,
    Picture,

    /// <summary>Material Exchange Format (SMPTE ST 377-1); recognised, so that it can be said what it is, and not read.</summary>
    Mxf,

    /// <summary>Markers as delimited text.</summary>
    MarkerList,
}
