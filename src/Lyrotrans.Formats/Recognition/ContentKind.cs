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
    Picture,

    /// <summary>Markers as delimited text.</summary>
    MarkerList,
}
