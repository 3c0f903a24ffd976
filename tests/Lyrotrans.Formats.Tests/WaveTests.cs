using System.Buffers.Binary;
using System.Text;
using CsCheck;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

public class WaveTests
{
    private static readonly SampleEncoding[] s_encodings = [SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Integer32, SampleEncoding.Float32, SampleEncoding.Float64];

    private static byte[] File(PcmLayout layout, byte[]? head = null) => [.. head ?? WaveWriter.Head(layout), .. new byte[layout.DataBytes + (layout.DataBytes & 1)]];

    private static SoundHeader Read(byte[] bytes) => WaveReader.Read(new MemoryStream(bytes), "test.wav");

    [Fact]
    public void What_is_written_is_read() => Gen.Select(Gen.Int[0, 4], Gen.Int[1, 6], Gen.Int[0, 99], Gen.Long[0, 4_000_000_000]).Sample((kind, channels, frames, stamp) =>
    {
        var layout = new PcmLayout(s_encodings[kind], false, channels, SampleRate.FromHz(48_000), 0, frames);
        var bext = new BroadcastExtension("Suite: Cello", "Lyrotrans", stamp, "2026-03-21", "10:00:00");
        var head = WaveWriter.Head(layout, bext, [new CuePoint(1, 7, "here"), new CuePoint(2, 9, "Zoë")], Encoding.UTF8.GetBytes("<BWFXML/>").ToValueArray());
        var header = Read(File(layout, head));
        return header.Layout == layout with { DataOffset = head.Length } && header.Broadcast == bext && header.Findings.Count == 0
            && header.Cues == [new CuePoint(1, 7, "here"), new CuePoint(2, 9, "Zoë")] && Encoding.UTF8.GetString(header.Ixml.AsSpan()) == "<BWFXML/>"
            && header.FactSamples == (layout.Encoding.IsFloat() ? frames : null);
    });

    [Theory]
    [InlineData("Suite & <friends>", "Zoë \u0001\ud83c\udfba", 2, 5_000_000_000L)]
    [InlineData("", "Horn", 1, null)]
    [InlineData("Suite", "Array", 5, 0L)]
    public void What_a_file_says_of_itself_is_read_by_any_reader_of_XML(string project, string name, int channels, long? stamp)
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, channels, SampleRate.Hz48000, 0, 3);
        var umid = new string('7', 64);
        var texts = new WaveTexts(project, name, WaveTexts.ChannelNames(name, channels), FrameRate.Fps2997Drop, stamp, umid);
        var bext = stamp is { } s ? new BroadcastExtension("d", "o", s, Umid: umid) : null;
        var header = Read(File(layout, WaveWriter.Head(layout, bext, [], texts.Ixml(layout), texts.Info())));
        Assert.Empty(header.Findings);
        Assert.Empty(header.RateWords);
        Assert.Equal((umid, bext), (header.Umid, header.Broadcast));
        Assert.Equal(name, header.Info.Single(i => i.Key == "INAM").Value);
        Assert.Equal(project, header.Info.FirstOrDefault(i => i.Key == "IPRD").Value ?? string.Empty);
        var ixml = System.Xml.Linq.XDocument.Parse(Encoding.UTF8.GetString(header.Ixml.AsSpan())).Root!;
        string? Word(string element) => ixml.Descendants(element).FirstOrDefault()?.Value;
        Assert.Equal((project, "30000/1001", "DF", "48000", "24"), (Word("PROJECT"), Word("TIMECODE_RATE"), Word("TIMECODE_FLAG"), Word("FILE_SAMPLE_RATE"), Word("AUDIO_BIT_DEPTH")));
        Assert.Equal(stamp, Word("TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_HI") is { } high ? (long.Parse(high, null) << 32) + long.Parse(Word("TIMESTAMP_SAMPLES_SINCE_MIDNIGHT_LO")!, null) : null);
        var tracks = ixml.Element("TRACK_LIST")!.Elements("TRACK").Select(t => t.Element("NAME")!.Value).ToList();
        Assert.Equal(channels, tracks.Count);
        Assert.Equal(channels, tracks.Distinct().Count());
        Assert.All(tracks, t => Assert.StartsWith(name.Replace("\u0001", string.Empty, StringComparison.Ordinal), t, StringComparison.Ordinal));
    }

    [Fact]
    public void What_else_says_a_rate_is_told_where_it_says_another()
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, 1, SampleRate.FromHz(44_100), 0, 10);
        var bext = new BroadcastExtension("", "", 0, CodingHistory: "A=PCM,F=96000,W=24,M=mono\r\nA=PCM,F=48000,W=24,M=mono\r\n");
        var ixml = Encoding.UTF8.GetBytes("<BWFXML><SPEED><FILE_SAMPLE_RATE>47952</FILE_SAMPLE_RATE></SPEED></BWFXML>");
        var bytes = File(layout, WaveWriter.Head(layout, bext, [], ixml.ToValueArray()));
        Assert.Equal([("its coding history", 48_000), ("its iXML", 47_952)], Read(bytes).RateWords.Select(w => (w.Says, w.Rate.HeaderHz)));

        // The format's own count of bytes a second, four bytes on from the rate.
        var rate = bytes.AsSpan().IndexOf("fmt "u8) + 12;
        BinaryPrimitives.WriteInt32LittleEndian(bytes.AsSpan(rate + 4), 48_000 * 3);
        Assert.Equal(48_000, Read(bytes).RateWords[0].Rate.HeaderHz);
        Assert.Empty(Read(File(layout, WaveWriter.Head(layout, bext with { CodingHistory = "A=PCM,F=44100" }, [], Encoding.UTF8.GetBytes("<!DOCTYPE x [<!ENTITY e SYSTEM 'file:///x'>]><x>&e;</x>").ToValueArray()))).RateWords);
    }

    [Theory]
    [InlineData("<TRACK><CHANNEL_INDEX>7</CHANNEL_INDEX><INTERLEAVE_INDEX>2</INTERLEAVE_INDEX><NAME>Door</NAME></TRACK><TRACK><CHANNEL_INDEX>1</CHANNEL_INDEX><NAME> Boom </NAME></TRACK>", "", "Boom|Door|")]
    [InlineData("<TRACK><INTERLEAVE_INDEX>3</INTERLEAVE_INDEX><NAME/><FUNCTION>M-MID_SIDE</FUNCTION></TRACK>", "sTRK1=Left\r\nsTRK3=Other\r\nsSCENE=4", "Left||M-MID_SIDE")]
    [InlineData("", "TRK2=Near\nzTRK1=Far\nTRKx=no\nTRK9=beyond", "Far|Near|")]
    [InlineData("<TRACK><INTERLEAVE_INDEX>0</INTERLEAVE_INDEX><NAME>none</NAME></TRACK><TRACK><INTERLEAVE_INDEX>99999999999</INTERLEAVE_INDEX><NAME>far</NAME></TRACK>", "", "")]
    public void Channels_are_called_as_the_track_list_or_the_description_says(string list, string description, string names)
    {
        var layout = new PcmLayout(SampleEncoding.Integer16, false, 3, SampleRate.Hz48000, 0, 1);
        var ixml = list.Length == 0 ? default : Encoding.UTF8.GetBytes($"<BWFXML><TRACK_LIST>{list}</TRACK_LIST></BWFXML>").ToValueArray();
        var head = WaveWriter.Head(layout, description.Length == 0 ? null : new BroadcastExtension(description, "recorder", 0), [], ixml);
        Assert.Equal(names, string.Join('|', WaveReader.Read(new MemoryStream([.. head, .. new byte[6]]), "a.wav").ChannelNames));
    }

    [Fact]
    public void Beyond_four_gigabytes_it_is_rf64_and_is_read_as_such()
    {
        var layout = new PcmLayout(SampleEncoding.Integer24, false, 2, SampleRate.Hz48000, 0, 1_000_000_000);
        var head = WaveWriter.Head(layout);
        Assert.Equal("RF64", Encoding.Latin1.GetString(head, 0, 4));
        using var sparse = new FileStream(Path.GetTempFileName(), FileMode.Open, FileAccess.ReadWrite, FileShare.None, 4096, FileOptions.DeleteOnClose);
        sparse.Write(head);
        sparse.SetLength(head.Length + layout.DataBytes);
        var header = WaveReader.Read(sparse, "large.wav");
        Assert.Equal(1_000_000_000, header.Layout.Frames);
        Assert.Empty(header.Findings);
    }

    [Fact]
    public void Wav_files_of_other_software_hold_what_is_stated()
    {
        using var stream = Fixtures.Open("aaf/horn-close.wav");
        var header = WaveReader.Read(stream, "horn-close.wav");
        Assert.Equal((SampleEncoding.Integer24, 1, 240_000L), (header.Layout.Encoding, header.Layout.Channels, header.Layout.Frames));
        Assert.Equal(1_728_000_000, header.Broadcast!.TimeReference);
        var samples = stream.ToArray().AsSpan((int)header.Layout.DataOffset, (int)header.Layout.DataBytes);
        Assert.Equal("ad84cb466211ec1cfcbf61beea2bdcd388285ff0ab458921436c89e806f96594", Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(samples)));
    }

    [Fact]
    public void A_data_size_that_lies_is_put_right_with_a_finding()
    {
        var layout = new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 100);
        var bytes = File(layout);
        var at = bytes.Length - 200 - 4;
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(at), 5_000);
        Assert.Equal(100, Read(bytes).Layout.Frames);
        Assert.Contains("5000 bytes", Assert.Single(Read(bytes).Findings).Text);
        BinaryPrimitives.WriteUInt32LittleEndian(bytes.AsSpan(at), 0);
        Assert.Equal(100, Read(bytes).Layout.Frames);
        Assert.Single(Read(bytes).Findings);
    }

    [Fact]
    public void An_empty_data_chunk_before_others_is_empty_and_not_guessed_at()
    {
        byte[] bytes = [.. WaveWriter.Head(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 0)), .. "LIST"u8, 4, 0, 0, 0, .. "INFO"u8];
        Assert.Equal(0, Read(bytes).Layout.Frames);
    }

    [Theory]
    [InlineData(0x0055, "MPEG layer 3")]
    [InlineData(0x0002, "ADPCM")]
    [InlineData(0x1234, "0x1234")]
    public void A_coded_file_is_refused_by_its_codec(int tag, string words)
    {
        var bytes = File(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 4));
        BinaryPrimitives.WriteUInt16LittleEndian(bytes.AsSpan(20), (ushort)tag);
        Assert.Contains(words, Assert.Throws<BadInputException>(() => Read(bytes)).Message);
    }

    [Fact]
    public void A_cut_header_a_missing_chunk_and_an_impossible_format_say_so()
    {
        var bytes = File(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 4));
        Assert.Contains("ends inside", Assert.Throws<BadInputException>(() => Read(bytes[..6])).Message);
        Assert.Contains("no format chunk", Assert.Throws<BadInputException>(() => Read(bytes[..12])).Message);
        Assert.Contains("only", Assert.Throws<BadInputException>(() => Read(bytes[..30])).Message);
        Assert.Contains("no data chunk", Assert.Throws<BadInputException>(() => Read(bytes[..36])).Message);
        bytes[22] = 0;
        Assert.Contains("0 channels", Assert.Throws<BadInputException>(() => Read(bytes)).Message);
    }

    [Fact]
    public void Any_damage_to_a_header_is_an_error_or_a_finding()
    {
        var layout = new PcmLayout(SampleEncoding.Float32, false, 3, SampleRate.Hz48000, 0, 10);
        var good = File(layout, WaveWriter.Head(layout, new BroadcastExtension("d", "o", 5), [new CuePoint(1, 2, "c")]));
        var damage = new Damage();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte, Gen.Int[0, good.Length]).Array[1, 6].Sample(
            hits =>
            {
                var bytes = Damage.Changed(good, hits.Select(h => (h.Item1, h.Item2)));

                damage.Take(() => Read(bytes[..hits[0].Item3]), header =>
                {
                    Assert.InRange(header.Layout.DataOffset + header.Layout.DataBytes, 12, bytes.Length);
                    Assert.InRange(header.Layout.Channels, 1, ushort.MaxValue);
                });
            },
            iter: 5000);
        damage.BothHappened();
    }

    [Fact]
    public void Aiff_is_read_with_its_rate_markers_and_both_byte_orders()
    {
        var big = AiffReader.Read(new MemoryStream(Aiff("AIFF", null, 24, 5)), "t.aif");
        Assert.Equal((SampleEncoding.Integer24, true, 5L), (big.Layout.Encoding, big.Layout.BigEndian, big.Layout.Frames));
        Assert.Equal(SampleRate.Hz44100, big.Layout.Rate);
        Assert.Equal([new CuePoint(1, 3, "mark")], big.Cues);
        var small = AiffReader.Read(new MemoryStream(Aiff("AIFC", "sowt", 16, 5)), "t.aif");
        Assert.False(small.Layout.BigEndian);
        Assert.Contains("coded", Assert.Throws<BadInputException>(() => AiffReader.Read(new MemoryStream(Aiff("AIFC", "ima4", 16, 5)), "t.aif")).Message);
    }

    [Fact]
    public void Files_are_recognised_by_content()
    {
        static ContentKind Kind(byte[] head) => ContentSniffer.Recognise(new MemoryStream(head));
        Assert.Equal(ContentKind.Wave, Kind(File(new PcmLayout(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 4))));
        Assert.Equal(ContentKind.Aiff, Kind(Aiff("AIFF", null, 16, 1)));
        Assert.Equal(ContentKind.Midi, Kind(Fixtures.Open("midi/suite-96.mid").ToArray()));
        Assert.Equal(ContentKind.Session, Kind(Fixtures.Open("aaf/linked-mono.aaf").ToArray()));
        Assert.Equal(ContentKind.Wave, Kind(Fixtures.Open("midi/not-midi.mid").ToArray()));
        Assert.Equal(ContentKind.Unknown, Kind("plain text"u8.ToArray()));
        Assert.Equal(ContentKind.Empty, Kind([]));
    }

    private static byte[] Aiff(string form, string? codec, int bits, int frames)
    {
        var body = new MemoryStream();
        void Chunk(string id, byte[] data)
        {
            body.Write(Encoding.Latin1.GetBytes(id));
            body.Write([(byte)(data.Length >> 24), (byte)(data.Length >> 16), (byte)(data.Length >> 8), (byte)data.Length, .. data, .. new byte[data.Length & 1]]);
        }

        body.Write(Encoding.Latin1.GetBytes(form));

        // 44 100 Hz as an 80-bit extended: exponent 16398, mantissa 0xAC44 at the top.
        Chunk("COMM", [0, 1, 0, 0, 0, (byte)frames, 0, (byte)bits, 0x40, 0x0E, 0xAC, 0x44, 0, 0, 0, 0, 0, 0, .. codec is null ? [] : Encoding.Latin1.GetBytes(codec + "\0\0")]);
        Chunk("MARK", [0, 1, 0, 1, 0, 0, 0, 3, 4, .. "mark"u8, 0]);
        Chunk("SSND", [0, 0, 0, 0, 0, 0, 0, 0, .. new byte[frames * bits / 8]]);
        return [.. "FORM"u8, 0, 0, 0, (byte)body.Length, .. body.ToArray()];
    }
}
