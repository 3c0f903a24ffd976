namespace Lyrotrans.Core.Sessions;

public enum NoteControlKind
{
    Controller,
    Program,
    PitchBend,
    ChannelPressure,
    PolyPressure,
    SystemExclusive,
}
