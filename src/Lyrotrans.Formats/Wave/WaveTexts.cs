using System.Globalization;
using System.Text;
using System.Xml.Linq;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Wave;

/// <summary>What a WAVE file says of itself for people and other programs, in its INFO list and its iXML chunk.</summary>
/// <param name="Project">The session.</param>
/// <param name="Name">The track, or what else the sound is.</param>
/// <param name="Channels">A name for each channel.</param>
/// <param name="FrameRate">Of the session's timecode.</param>
/// <param name="TimeReference">Samples since midnight at the file's own rate; null where it has no stamp.</param>
/// <param name="Umid">What edit files call the sound, as hex of 32 bytes; null where none does.</param>
/// <remarks>docs/formats/sound.md, section 6.</remarks>
public sealed record WaveTexts(string Project, string Name, ValueArray<string> Channels, FrameRate FrameRate, long? TimeReference, string? Umid = null)
{
    /// <summary>Names for the channels of a sound: its own, with L and R for two and numbers for more.</summary>
    public static ValueArray<string> ChannelNames(string name, int channels) => channels switch
    {
        1 => [name],
        2 => [$"{name} L", $"{name} R"],
        _ => Enumerable.Range(1, channels).Select(c => string.Create(CultureInfo.InvariantCulture, $"{name} {c}")).ToValueArray(),
    };

    /// <summary>Entries of the INFO list by their four letters; what is empty is left out.</summary>
    public ValueArray<KeyValuePair<string, string>> Info() => new KeyValuePair<string, string>[] { new("INAM", Name), new("IPRD", Project), new("ISFT", "Lyrotrans") }.Where(e => e.Value.Length > 0).ToValueArray();

    /// <summary>The iXML chunk as UTF-8.</summary>
    /// <param name="layout">Rate and bits of the file.</param>
    public ValueArray<byte> Ixml(PcmLayout layout)
    {
        var hz = layout.Rate.HeaderHz;
        var root = new XElement(
            "BWFXML",
            new XElement("IXML_VERSION", "2.10"),
            new XElement("PROJECT", Clean(Project)),
            Umid is null ? null : new XElement("FILE_UID", Umid.ToUpperInvariant()),
            new XElement(
                "SPEED",
                new XElement("TIMECODE_RATE", $"{FrameRate.PerSecond.Numerator}/{FrameRate.PerSecond.Denominator}"),
                new XElement("TIMECODE_FLAG", FrameRate.Drop ? "DF" : "NDF"),
                new XElement("FILE_SAMPLE_RATE", hz),
                new XElement("AUDIO_BIT_DEPTH", layout.Encoding.Bits()),
                Stamp(hz)),
            new XElement("TRACK_LIST", new XElement("TRACK_COUNT", Channels.Count), Channels.Select((c, i) => new XElement("TRACK", new XElement("CHANNEL_INDEX", i + 1), new XElement("INTERLEAVE_INDEX", i + 1), new XElement("NAME", Clean(c))))));
        return Encoding.UTF8.GetBytes($"<?xml version=\"1.0\" encoding=\"UTF-8\"?>{root.ToString(SaveOptions.DisableFormatting)}").ToValueArray();
    }

    private XElement[] Stamp(long hz) => TimeReference is not { } samples
        ? []
        : [new("TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI", (uint)(samples >> 32)), new("TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO", (uint)samples), new("TIMESTAMP_SAMPLE_RATE", hz)];

    // What XML cannot hold is left out.
    private static string Clean(string text) => string.Concat(text.EnumerateRunes().Where(r => r.Value is '\t' or (>= 0x20 and not (0xFFFE or 0xFFFF))));
}
