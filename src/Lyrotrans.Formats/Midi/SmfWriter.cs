using System.Buffers.Binary;
using Lyrotrans.Core.Errors;

namespace Lyrotrans.Formats.Midi;

/// <summary>Writes Standard MIDI Files (RP-001), every event with its own status byte. The same file in gives the same bytes.</summary>
/// <remarks>docs/formats/midi.md, section 2.</remarks>
public static class SmfWriter
{
    private const long LongestDelta = 0x0FFFFFFF;

    /// <exception cref="BadInputException">A time between two events is longer than the format can say (2²⁸ − 1 ticks).</exception>
    public static byte[] Write(SmfFile file)
    {
        var output = new MemoryStream();
        output.Write("MThd"u8);
        UInt32(output, 6);
        UInt16(output, file.Type);
        UInt16(output, file.Tracks.Count);
        UInt16(output, file.TicksPerQuarter > 0 ? file.TicksPerQuarter : (-file.FramesPerSecond << 8) | file.TicksPerFrame);
        foreach (var track in file.Tracks)
        {
            var body = Body(track);
            output.Write("MTrk"u8);
            UInt32(output, (uint)body.Length);
            output.Write(body);
        }

        return output.ToArray();
    }

    private static byte[] Body(SmfTrack track)
    {
        var body = new MemoryStream();
        var tick = 0L;
        foreach (var e in track.Events)
        {
            Number(body, e.Tick - tick);
            tick = e.Tick;
            body.WriteByte(e.Status);
            if (e.IsMeta)
            {
                body.WriteByte(e.Meta);
            }

            if (e.IsMeta || e.Status is 0xF0 or 0xF7)
            {
                Number(body, e.Data.Count);
            }

            body.Write(e.Data.AsSpan());
        }

        Number(body, Math.Max(0, track.EndTick - tick));
        body.Write([SmfEvent.MetaStatus, SmfMeta.EndOfTrack, 0]);
        return body.ToArray();
    }

    private static void Number(Stream into, long value)
    {
        if (value is < 0 or > LongestDelta)
        {
            throw new BadInputException(
                MidiCodes.TooFar, "MIDI", string.Empty, $"Between two events lie {value} ticks, and a MIDI file can say {LongestDelta} at most.", "Take away what stands so far out, such as a meter far behind the end.");
        }

        for (var shift = 21; shift > 0; shift -= 7)
        {
            if (value >> shift != 0)
            {
                into.WriteByte((byte)(((value >> shift) & 0x7F) | 0x80));
            }
        }

        into.WriteByte((byte)(value & 0x7F));
    }

    private static void UInt32(Stream into, uint value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32BigEndian(bytes, value);
        into.Write(bytes);
    }

    private static void UInt16(Stream into, int value)
    {
        Span<byte> bytes = stackalloc byte[2];
        BinaryPrimitives.WriteUInt16BigEndian(bytes, unchecked((ushort)value));
        into.Write(bytes);
    }
}
