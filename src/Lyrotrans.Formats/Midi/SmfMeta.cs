namespace Lyrotrans.Formats.Midi;

/// <summary>Meta event types of RP-001.</summary>
public static class SmfMeta
{
    public const byte TrackName = 0x03;
    public const byte Marker = 0x06;
    public const byte Cue = 0x07;
    public const byte EndOfTrack = 0x2F;
    public const byte Tempo = 0x51;
    public const byte SmpteOffset = 0x54;
    public const byte Meter = 0x58;
    public const byte Key = 0x59;
}
