namespace Lyrotrans.Formats.Midi;

/// <summary>Meta event types of RP-001.</summary>
public static class SmfMeta
{
    /// <summary>Any text.</summary>
    public const byte Text = 0x01;

    /// <summary>A copyright notice.</summary>
    public const byte Copyright = 0x02;

    /// <summary>The name of a track, or in the first one of the sequence.</summary>
    public const byte TrackName = 0x03;

    /// <summary>Types from <see cref="Text"/> to this are texts.</summary>
    public const byte LastText = 0x0F;

    /// <summary>A syllable or word that is sung.</summary>
    public const byte Lyric = 0x05;

    /// <summary>A marker.</summary>
    public const byte Marker = 0x06;

    /// <summary>A cue point.</summary>
    public const byte Cue = 0x07;

    /// <summary>The last event of a track.</summary>
    public const byte EndOfTrack = 0x2F;

    /// <summary>Microseconds a quarter, in three bytes.</summary>
    public const byte Tempo = 0x51;

    /// <summary>The timecode at which the track starts.</summary>
    public const byte SmpteOffset = 0x54;

    /// <summary>Beats, and the power of two of the beat unit.</summary>
    public const byte Meter = 0x58;

    /// <summary>Sharps, or flats below zero, and whether it is minor.</summary>
    public const byte Key = 0x59;

    /// <summary>Whether the session model has a place of its own for a type; others go along with a track's events.</summary>
    public static bool HasPlace(byte type) => type is TrackName or Marker or Cue or EndOfTrack or Tempo or SmpteOffset or Meter or Key;

    /// <summary>A text type's name, or the number of another.</summary>
    public static string NameOf(byte type) => type switch
    {
        Text => "text",
        Copyright => "copyright",
        0x04 => "instrument name",
        Lyric => "lyric",
        0x08 => "program name",
        0x09 => "device name",
        0x20 => "channel prefix",
        0x21 => "port",
        0x7F => "sequencer data",
        _ => $"meta event {type:X2}",
    };
}
