using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Midi;

/// <summary>
/// One event of a Standard MIDI File (RP-001): its absolute tick, status byte (<c>0xFF</c> meta, <c>0xF0</c>/<c>0xF7</c> system
/// exclusive, else a channel message), the meta type, and its data bytes.
/// </summary>
/// <remarks>docs/formats/midi.md, section 2.</remarks>
public readonly record struct SmfEvent(long Tick, byte Status, byte Meta, ValueArray<byte> Data)
{
    /// <summary>The status byte of meta events.</summary>
    public const byte MetaStatus = 0xFF;

    /// <summary>Whether it is a meta event.</summary>
    public bool IsMeta => Status == MetaStatus;

    /// <summary>Upper half of a channel message's status.</summary>
    public int Kind => Status & 0xF0;

    /// <summary>1 … 16.</summary>
    public int Channel => (Status & 0x0F) + 1;

    /// <summary>A meta event of a type, with its data.</summary>
    public static SmfEvent OfMeta(long tick, byte type, params ReadOnlySpan<byte> data) => new(tick, MetaStatus, type, ValueArray.Create(data));

    /// <summary>A channel event.</summary>
    /// <param name="tick">From the start of the track.</param>
    /// <param name="kind">The status byte of the first channel, 0x80 to 0xE0.</param>
    /// <param name="channel">1 to 16.</param>
    /// <param name="data">One or two bytes of 7 bits.</param>
    public static SmfEvent OfChannel(long tick, int kind, int channel, params ReadOnlySpan<byte> data) =>
        new(tick, (byte)(kind | (channel - 1)), 0, ValueArray.Create(data));
}
