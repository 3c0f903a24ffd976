using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>
/// Anything on a channel that is not a note. <paramref name="Number"/> is the controller (or the key of poly pressure);
/// <paramref name="Value"/> its value, the program, the pressure or the bend (−8192 … 8191). System exclusive and meta events keep their bytes.
/// </summary>
public readonly record struct NoteControl(
    long Tick, NoteControlKind Kind, int Channel, int Number, int Value, ValueArray<byte> Bytes = default);
