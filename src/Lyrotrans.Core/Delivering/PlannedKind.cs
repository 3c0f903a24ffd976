namespace Lyrotrans.Core.Delivering;

/// <summary>What a file of a package is.</summary>
public enum PlannedKind
{
    FromZero,

    /// <summary>The click as sound.</summary>
    Click,

    /// <summary>A MIDI file: the whole session's, or one part's.</summary>
    Midi,
    SessionDocument,

    /// <summary>The markers as delimited text.</summary>
    MarkerList,
    SessionSheet,
    Manifest,
    Checksums,
}
