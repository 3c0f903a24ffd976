using Lyrotrans.Core.Findings;

namespace Lyrotrans.Formats.Midi;

/// <summary>Codes of MIDI files.</summary>
public static class MidiCodes
{
    /// <summary>The file has no header of a MIDI file.</summary>
    public static readonly FindingCode NotMidi = new("midi.not-midi");

    /// <summary>The header says a type or a division that is not possible.</summary>
    public static readonly FindingCode BadHeader = new("midi.bad-header");

    /// <summary>The header says another number of tracks than the file has.</summary>
    public static readonly FindingCode TrackCount = new("midi.track-count");

    /// <summary>The file ends inside a track; what came before was read.</summary>
    public static readonly FindingCode TrackCut = new("midi.track-cut");

    /// <summary>A chunk that is not known was left out.</summary>
    public static readonly FindingCode UnknownChunk = new("midi.unknown-chunk");

    /// <summary>Bytes after the end of the file or of a track were left out.</summary>
    public static readonly FindingCode DataAfterEnd = new("midi.data-after-end");

    /// <summary>An event is cut or not MIDI; the rest of its track was left out.</summary>
    public static readonly FindingCode BadEvent = new("midi.bad-event");

    /// <summary>A track has no end-of-track event.</summary>
    public static readonly FindingCode NoEnd = new("midi.no-end");

    /// <summary>A note begins on a key that still sounds; the oldest one ends first.</summary>
    public static readonly FindingCode OverlappingNote = new("midi.overlapping-note");

    /// <summary>A note never ends; it was closed at the end of its track.</summary>
    public static readonly FindingCode OpenNote = new("midi.open-note");

    /// <summary>The conductor track has texts or data that have no place in a session.</summary>
    public static readonly FindingCode ConductorText = new("midi.conductor-text");

    /// <summary>Between two events lie more ticks than a MIDI file can say.</summary>
    public static readonly FindingCode TooFar = new("midi.too-far");
}
