using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// One event of a Standard MIDI File (RP-001): its absolute tick, status byte (<c>0xFF</c> meta, <c>0xF0</c>/<c>0xF7</c> system
/// exclusive, else a channel message), the meta type, and its data bytes.
/// </summary>
/// <remarks>docs/formats/midi.md, section 2.</remarks>
public readonly record struct SmfEvent(long Tick, byte Status, byte Meta, ValueArray<byte> Data)
{
    public const byte MetaStatus = 0xFF;

    public bool IsMeta => Status == MetaStatus;

    /// <summary>Upper half of a channel message's status.</summary>
    public int Kind => Status & 0xF0;

    /// <summary>1 … 16.</summary>
    public int Channel => (Status & 0x0F) + 1;

    public static SmfEvent OfMeta(long tick, byte type, params ReadOnlySpan<byte> data) => new(tick, MetaStatus, type, ValueArray.Create(data));

    public static SmfEvent OfChannel(long tick, int kind, int channel, params ReadOnlySpan<byte> data) =>
        new(tick, (byte)(kind | (channel - 1)), 0, ValueArray.Create(data));
}
