namespace Lyrotrans.Audio.Instruments;

/// <summary>In the order in which they are told at one sample; a bank comes before its program.</summary>
internal enum NoteEventKind
{
    Off,
    Controller,
    Program,
    Bend,
    ChannelPressure,
    KeyPressure,
    On,
}
