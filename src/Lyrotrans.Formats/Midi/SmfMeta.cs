namespace Lyrotrans.Formats.Midi;

/// <summary>Meta event types of RP-001.</summary>
public static class SmfMeta
{
    public const byte Text = 0x01;
    public const byte Copyright = 0x02;
    public const byte TrackName = 0x03;
    public const byte LastText = 0x0F;
    public const byte Lyric = 0x05;
    public const byte Marker = 0x06;
    public const byte Cue = 0x07;
    public const byte EndOfTrack = 0x2F;
    public const byte Tempo = 0x51;
    public const byte SmpteOffset = 0x54;
    public const byte Meter = 0x58;
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
