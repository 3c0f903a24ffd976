namespace Lyrotrans.Core.Sessions;

/// <summary>What a controller event of a part changes.</summary>
public enum NoteControlKind
{
    Controller,
    Program,
    PitchBend,
    ChannelPressure,
    PolyPressure,
    SystemExclusive,

    /// <summary>A text or other meta event that the model has no place of its own for; the number is its type.</summary>
    Meta,
}
