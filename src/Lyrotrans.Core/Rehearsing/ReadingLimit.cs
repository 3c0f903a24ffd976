namespace Lyrotrans.Core.Rehearsing;

/// <summary>Something of a package that a receiver's program does not read.</summary>
public enum ReadingLimit
{
    /// <summary>Files of clips in the format of the package: files of sound are all that comes in.</summary>
    Clips,

    /// <summary>Places between frames: both ends of a clip go to the nearest frame of the session, and what is shorter than half of one is lost.</summary>
    BetweenFrames,

    /// <summary>Channels after the first.</summary>
    Channels,

    /// <summary>Two clips at once: where they cross, the later one cuts the earlier.</summary>
    Crossfades,

    /// <summary>Fades of any kind, crossfades too.</summary>
    Fades,

    /// <summary>The gain of clips.</summary>
    ClipGain,

    /// <summary>Faders and their automation.</summary>
    Volume,

    /// <summary>Pans and their automation.</summary>
    Pan,

    /// <summary>That a clip is muted: it sounds.</summary>
    Mutes,

    /// <summary>More than one track of a MIDI file: all notes come on one.</summary>
    MidiTracks,
}
