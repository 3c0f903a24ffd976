using System.Text;
using CsCheck;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Flac;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

/// <summary>Tempo and key in sound files: written, read back, and read from tags of others.</summary>
public class TagTests
{
    private static readonly PcmLayout s_wave = new(SampleEncoding.Integer16, false, 1, SampleRate.Hz48000, 0, 3);
    private static readonly PcmLayout s_aiff = s_wave with { BigEndian = true };

    private static SoundHeader Wave(byte[] head) => WaveReader.Read(new MemoryStream([.. head, .. new byte[6]]), "w.wav");

    // A tag of which all frames are as others write them: with flags, in UTF-16, of version 2.4, with an extended header.
    private static byte[] Tag(byte version, byte flags, params byte[][] frames)
    {
        byte[] body = [.. frames.SelectMany(f => f)];
        return [.. "ID3"u8, version, 0, flags, 0, 0, (byte)(body.Length >> 7), (byte)(body.Length & 0x7F), .. body];
    }

    private static byte[] Frame(string id, params byte[] text) => [.. Encoding.Latin1.GetBytes(id), 0, 0, 0, (byte)text.Length, 0, 0, .. text];

    private static byte[] InWave(byte[] tag)
    {
        var head = WaveWriter.Head(s_wave);
        return [.. head[..12], .. "id3 "u8, (byte)tag.Length, (byte)(tag.Length >> 8), 0, 0, .. tag, .. new byte[tag.Length & 1], .. head[12..]];
    }

    [Theory]
    [InlineData("92", "Dm")]
    [InlineData(null, "Bb")]
    [InlineData("120", null)]
    [InlineData(null, null)]
    public void Tempo_and_key_are_read_back_from_wave_and_aiff(string? tempo, string? key)
    {
        var tags = TagTexts.Of(tempo, key);
        Assert.Equal((tempo, key), TagTexts.In(Wave(WaveWriter.Head(s_wave, tags: tags))));
        var aiff = AiffReader.Read(new MemoryStream([.. AiffWriter.Head(s_aiff, tags), .. new byte[6]]), "a.aif");
        Assert.Equal((tempo, key), TagTexts.In(aiff));
        Assert.Equal(3, aiff.Layout.Frames);

        // Without any the head is as it always was.
        Assert.Equal(tempo is null && key is null, WaveWriter.Head(s_wave).SequenceEqual(WaveWriter.Head(s_wave, tags: tags)));
    }

    [Fact]
    public void Tags_of_others_are_read()
    {
        Assert.Equal(("128", "F#m"), TagTexts.In(Wave(InWave(Tag(3, 0, Frame("TIT2", [0, .. "A name"u8]), Frame("TBPM", [1, 0xFF, 0xFE, .. Encoding.Unicode.GetBytes("128\0")]), Frame("TKEY", [0, .. "F#m"u8]))))));
        Assert.Equal(("90", null), TagTexts.In(Wave(InWave(Tag(4, 0, Frame("TBPM", [3, .. "90"u8]))))));

        // An extended header of ten bytes after its size in 2.3; of six in all in 2.4.
        Assert.Equal(("90", null), TagTexts.In(Wave(InWave(Tag(3, 0x40, [0, 0, 0, 6, 0, 0, 0, 0, 0, 0], Frame("TBPM", [0, .. "90"u8]))))));
        Assert.Equal(("90", null), TagTexts.In(Wave(InWave(Tag(4, 0x40, [0, 0, 0, 6, 1, 0], Frame("TBPM", [0, .. "90"u8]))))));
        Assert.Equal((null, null), TagTexts.In(Wave(InWave(Tag(2, 0, Frame("TBPM", [0, .. "90"u8]))))));
    }

    [Fact]
    public void A_damaged_tag_is_no_error() => Gen.Select(Gen.Byte.Array[0, 60], Gen.Bool).Sample((bytes, begins) =>
    {
        var tag = begins ? [.. "ID3"u8, 3, 0, 0, 0, 0, 0, 50, .. "TBPM"u8, .. bytes] : bytes;
        Assert.Equal(3, Wave(InWave(tag)).Layout.Frames);
    });

    private static byte[] Flac(params (int Type, byte[] Body)[] blocks)
    {
        var bytes = new List<byte>([.. "fLaC"u8]);
        for (var i = 0; i < blocks.Length; i++)
        {
            var (type, body) = blocks[i];
            bytes.AddRange([(byte)(type | (i == blocks.Length - 1 ? 0x80 : 0)), (byte)(body.Length >> 16), (byte)(body.Length >> 8), (byte)body.Length, .. body]);
        }

        return [.. bytes, .. "the frames"u8];
    }

    private static byte[] Comments(params string[] texts)
    {
        byte[] Text(string text) => [.. BitConverter.GetBytes(Encoding.UTF8.GetByteCount(text)), .. Encoding.UTF8.GetBytes(text)];
        return [.. Text("somebody"), .. BitConverter.GetBytes(texts.Length), .. texts.SelectMany(Text)];
    }

    [Fact]
    public void Comments_are_added_behind_those_that_are_there_and_all_else_stays()
    {
        var path = Path.GetTempFileName();
        try
        {
            foreach (var before in new[] { Flac((0, new byte[34]), (4, Comments("COMMENT=Starts at 1")), (1, new byte[7])), Flac((0, new byte[34])) })
            {
                File.WriteAllBytes(path, before);
                FlacComments.Add(path, [new("BPM", "92.5"), new("KEY", "D♭")]);
                var after = File.ReadAllBytes(path);
                var read = FlacComments.Read(new MemoryStream(after));
                Assert.Equal([.. FlacComments.Read(new MemoryStream(before)), new("BPM", "92.5"), new("KEY", "D♭")], read);
                Assert.EndsWith("the frames", Encoding.Latin1.GetString(after), StringComparison.Ordinal);
                Assert.True(after.AsSpan(8, 34).SequenceEqual(new byte[34]));
            }

            File.WriteAllBytes(path, [.. "fLaC"u8, 0, 255, 255, 255, 1]);
            Assert.Throws<InvalidDataException>(() => FlacComments.Add(path, [new("BPM", "1")]));
        }
        finally
        {
            File.Delete(path);
        }
    }

    [Fact]
    public void Damaged_comments_are_none_and_no_error() => Gen.Byte.Array[0, 40].Sample(bytes =>
    {
        Assert.True(FlacComments.Read(new MemoryStream(Flac((0, new byte[34]), (4, bytes)))).Count >= 0);
        Assert.Empty(FlacComments.Read(new MemoryStream(bytes)));
    });
}
