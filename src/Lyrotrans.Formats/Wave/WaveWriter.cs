using System.Buffers.Binary;
using System.Text;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.Wave;

/// <summary>
/// Writes the head of a broadcast WAVE file whose length is known, up to the first sample, so that the sound can be
/// streamed after it. Becomes RF64 (EBU Tech 3306) where 32-bit sizes do not reach.
/// </summary>
/// <remarks>docs/formats/sound.md, section 6.</remarks>
public static class WaveWriter
{
    /// <summary>All bytes before the samples. After the samples a zero byte follows when their size is odd.</summary>
    /// <param name="layout">Little-endian; its data offset is not looked at.</param>
    /// <param name="broadcast">A bext chunk to write.</param>
    /// <param name="cues">Cue points with labels.</param>
    /// <param name="ixml">An iXML chunk to write.</param>
    /// <param name="info">Entries of an INFO list by their four letters.</param>
    /// <param name="tags">Texts of an ID3v2 tag by their four letters.</param>
    public static byte[] Head(
        PcmLayout layout, BroadcastExtension? broadcast = null, ValueArray<CuePoint> cues = default, ValueArray<byte> ixml = default, ValueArray<KeyValuePair<string, string>> info = default, ValueArray<KeyValuePair<string, string>> tags = default)
    {
        var chunks = new MemoryStream();
        Chunk(chunks, "fmt ", Format(layout));
        if (layout.Encoding.IsFloat())
        {
            var fact = new byte[4];
            BinaryPrimitives.WriteUInt32LittleEndian(fact, (uint)Math.Min(layout.Frames, uint.MaxValue));
            Chunk(chunks, "fact", fact);
        }

        if (broadcast is not null)
        {
            Chunk(chunks, "bext", Broadcast(broadcast));
        }

        if (cues.Count > 0)
        {
            Chunk(chunks, "cue ", Cues(cues));
            Chunk(chunks, "LIST", Labels(cues));
        }

        if (info.Count > 0)
        {
            Chunk(chunks, "LIST", Texts(info));
        }

        if (ixml.Count > 0)
        {
            Chunk(chunks, "iXML", ixml.AsSpan());
        }

        if (tags.Count > 0)
        {
            Chunk(chunks, "id3 ", Id3Tag.Write(tags));
        }

        return Assemble(layout, chunks.ToArray());
    }

    private static byte[] Assemble(PcmLayout layout, byte[] chunks)
    {
        var padded = layout.DataBytes + (layout.DataBytes & 1);
        var riffSize = 4 + chunks.Length + 8 + padded;
        var large = riffSize > uint.MaxValue;
        var head = new MemoryStream();
        Four(head, large ? "RF64" : "RIFF");
        UInt32(head, large ? uint.MaxValue : (uint)riffSize);
        Four(head, "WAVE");
        if (large)
        {
            var ds64 = new byte[28];
            BinaryPrimitives.WriteInt64LittleEndian(ds64, riffSize + 36);
            BinaryPrimitives.WriteInt64LittleEndian(ds64.AsSpan(8), layout.DataBytes);
            BinaryPrimitives.WriteInt64LittleEndian(ds64.AsSpan(16), layout.Frames);
            Chunk(head, "ds64", ds64);
        }

        head.Write(chunks);
        Four(head, "data");
        UInt32(head, large ? uint.MaxValue : (uint)layout.DataBytes);
        return head.ToArray();
    }

    private static byte[] Format(PcmLayout layout)
    {
        // More than two channels need the extensible form (WAVEFORMATEXTENSIBLE); no speaker places are claimed.
        var extensible = layout.Channels > 2;
        var isFloat = layout.Encoding.IsFloat();
        var bytes = new byte[extensible ? 40 : isFloat ? 18 : 16];
        var tag = (ushort)(isFloat ? 3 : 1);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes, extensible ? (ushort)0xFFFE : tag);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(2), (ushort)layout.Channels);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(4), (uint)layout.Rate.HeaderHz);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(8), (uint)(layout.Rate.HeaderHz * layout.BytesPerFrame));
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(12), (ushort)layout.BytesPerFrame);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(14), (ushort)layout.Encoding.Bits());
        if (extensible)
        {
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(16), 22);
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(18), (ushort)layout.Encoding.Bits());
            BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(24), tag);
            new byte[] { 0, 0, 0, 0, 0x10, 0, 0x80, 0, 0, 0xAA, 0, 0x38, 0x9B, 0x71 }.CopyTo(bytes, 26);
        }

        return bytes;
    }

    private static byte[] Broadcast(BroadcastExtension bext)
    {
        var history = Encoding.Latin1.GetBytes(bext.CodingHistory);
        var bytes = new byte[602 + history.Length];
        Put(bytes, 0, 256, bext.Description);
        Put(bytes, 256, 32, bext.Originator);
        Put(bytes, 288, 32, bext.OriginatorReference);
        Put(bytes, 320, 10, bext.OriginationDate);
        Put(bytes, 330, 8, bext.OriginationTime);
        BinaryPrimitives.WriteInt64LittleEndian(bytes.AsSpan(338), bext.TimeReference);
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(346), 1);
        if (bext.Umid is { } umid)
        {
            Convert.FromHexString(umid).CopyTo(bytes.AsSpan(348));
        }

        history.CopyTo(bytes, 602);
        return bytes;
    }

    private static byte[] Cues(ValueArray<CuePoint> cues)
    {
        var bytes = new byte[4 + (24 * cues.Count)];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, (uint)cues.Count);
        for (var i = 0; i < cues.Count; i++)
        {
            var point = bytes.AsSpan(4 + (24 * i));
            BinaryPrimitives.WriteUInt32LittleEndian(point, (uint)cues[i].Id);
            BinaryPrimitives.WriteUInt32LittleEndian(point[4..], (uint)cues[i].Sample);
            Encoding.Latin1.GetBytes("data", point[8..]);
            BinaryPrimitives.WriteUInt32LittleEndian(point[20..], (uint)cues[i].Sample);
        }

        return bytes;
    }

    private static byte[] Labels(ValueArray<CuePoint> cues)
    {
        var list = new MemoryStream();
        Four(list, "adtl");
        foreach (var cue in cues)
        {
            var text = Encoding.UTF8.GetBytes(cue.Label);
            var label = new byte[4 + text.Length + 1];
            BinaryPrimitives.WriteUInt32LittleEndian(label, (uint)cue.Id);
            text.CopyTo(label, 4);
            Chunk(list, "labl", label);
        }

        return list.ToArray();
    }

    private static byte[] Texts(ValueArray<KeyValuePair<string, string>> info)
    {
        var list = new MemoryStream();
        Four(list, "INFO");
        foreach (var (id, text) in info)
        {
            Chunk(list, id, [.. Encoding.UTF8.GetBytes(text), 0]);
        }

        return list.ToArray();
    }

    private static void Put(byte[] into, int at, int longest, string text)
    {
        var bytes = Encoding.UTF8.GetBytes(text);
        bytes.AsSpan(0, Math.Min(longest, bytes.Length)).CopyTo(into.AsSpan(at));
    }

    private static void Chunk(Stream into, string id, ReadOnlySpan<byte> body)
    {
        Four(into, id);
        UInt32(into, (uint)body.Length);
        into.Write(body);
        if ((body.Length & 1) == 1)
        {
            into.WriteByte(0);
        }
    }

    private static void Four(Stream into, string id) => into.Write(Encoding.Latin1.GetBytes(id));

    private static void UInt32(Stream into, uint value)
    {
        Span<byte> bytes = stackalloc byte[4];
        BinaryPrimitives.WriteUInt32LittleEndian(bytes, value);
        into.Write(bytes);
    }
}
