namespace Lyrotrans.Core.Preparing;

/// <summary>How the notes are laid out in MIDI files. Every file carries tempo, meters, keys, markers and the start.</summary>
public enum MidiForm
{
    /// <summary>One file, one track for each notes track, its parts joined.</summary>
    OneFile,

    /// <summary>One file, one track for each part.</summary>
    TrackPerPart,

    /// <summary>One file for each part, all from the same start.</summary>
    FilePerPart,
}
