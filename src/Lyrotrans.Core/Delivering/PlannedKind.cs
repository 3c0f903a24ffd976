namespace Lyrotrans.Core.Delivering;

/// <summary>What a file of a package is.</summary>
public enum PlannedKind
{
    FromZero,

    /// <summary>A group of tracks, finished.</summary>
    Stem,

    /// <summary>The mix.</summary>
    GuideMix,

    /// <summary>The mix through the master, to listen to.</summary>
    FinishedMix,

    /// <summary>The sound of another file in another format, sample for sample.</summary>
    SameSound,

    /// <summary>A lossy copy of a sound file, to listen to.</summary>
    ListeningCopy,

    /// <summary>The click as sound.</summary>
    Click,

    /// <summary>A MIDI file: the whole session's, or one part's.</summary>
    Midi,

    /// <summary>The tracks that are kept as clips, as a file of clips.</summary>
    ClipFile,

    /// <summary>A medium that lies beside the file of clips.</summary>
    ClipMedia,

    /// <summary>The reference picture.</summary>
    Picture,
    SessionDocument,

    /// <summary>The markers as delimited text.</summary>
    MarkerList,

    /// <summary>Levels and loudness of every sound file as delimited text.</summary>
    LevelTable,

    /// <summary>Faders, pans, sends and effects of every track as delimited text.</summary>
    SettingsTable,
    SessionSheet,
    Manifest,
    Checksums,

    /// <summary>The signature of the manifest.</summary>
    Signature,
}
