using Lyrotrans.Formats.Preparations;
using Lyrotrans.Formats.Registry;
using System.Text;
using CsCheck;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Tests;

/// <summary>Bytes that nobody wrote on purpose: a clear error or a result, and never anything else.</summary>
public class DamageTests
{
    [Fact]
    public void Any_bytes_behind_a_true_beginning_are_refused_or_within_the_file()
    {
        var sound = Gen.Byte.Array[0, 300];
        foreach (var (head, kind, read) in new (byte[], ContentKind, Func<Stream, SoundHeader>)[]
        {
            (Head("RIFF\0\0\0\0WAVE"), ContentKind.Wave, s => WaveReader.Read(s, "w")),
            (Head("RF64\0\0\0\0WAVEds64"), ContentKind.Wave, s => WaveReader.Read(s, "w")),
            (Head("FORM\0\0\0\0AIFFCOMM"), ContentKind.Aiff, s => AiffReader.Read(s, "a")),
        })
        {
            var damage = new Damage();
            sound.Sample(
                tail =>
                {
                    byte[] bytes = [.. head, .. tail];
                    Assert.Equal(kind, ContentSniffer.Recognise(new MemoryStream(bytes)));
                    damage.Take(() => read(new MemoryStream(bytes)), h => Assert.InRange(h.Layout.DataOffset + h.Layout.DataBytes, head.Length, bytes.Length));
                },
                iter: 1500);
        }
    }

    private static byte[] Head(string text) => Encoding.Latin1.GetBytes(text);

    [Fact]
    public void Any_events_in_a_track_are_refused_or_in_order()
    {
        var damage = new Damage();
        Gen.Byte.Array[0, 300].Sample(
            tail =>
            {
                byte[] bytes = [.. "MThd\0\0\0\u0006\0\u0001\0\u0002\u0001\u00e0MTrk"u8, 0, 0, (byte)(tail.Length >> 8), (byte)tail.Length, .. tail];
                Assert.Equal(ContentKind.Midi, ContentSniffer.Recognise(new MemoryStream(bytes)));
                damage.Take(() => Midi.SmfReader.Read(new MemoryStream(bytes), "m"), file => Assert.All(file.Tracks, t => Assert.Equal(t.Events.Select(e => e.Tick).Order(), t.Events.Select(e => e.Tick))));
            },
            iter: 3000);
    }

    [Fact]
    public void Any_text_behind_the_head_of_a_marker_list_makes_rows_in_the_kinds_of_its_columns() => Gen.String.Sample(
        tail =>
        {
            var bytes = Encoding.UTF8.GetBytes("text,start samples,end timecode\n" + tail);
            Assert.Equal(ContentKind.MarkerList, ContentSniffer.Recognise(new MemoryStream(bytes)));
            Assert.All(MarkerList.MarkerListReader.Read(new MemoryStream(bytes), "m.csv"), r => Assert.True(r is { Line: > 1, Start.Kind: "samples", End: null or { Kind: "timecode" } }));
        },
        iter: 3000);

    [Theory]
    [InlineData("hello, this is text")]
    [InlineData("text,colour")]
    [InlineData("samples,timecode")]
    [InlineData("")]
    [InlineData("\"")]
    [InlineData("a;b;c\n1;2;3")]
    public void Text_without_the_columns_is_no_marker_list(string text)
    {
        Assert.NotEqual(ContentKind.MarkerList, ContentSniffer.Recognise(new MemoryStream(Encoding.UTF8.GetBytes(text))));
        Assert.Throws<BadInputException>(() => MarkerList.MarkerListReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), "m.csv"));
    }

    [Fact]
    public void Damaged_preparations_name_their_place_or_can_be_kept()
    {
        var good = ReceiversDocument.Write(Core.Receiving.ReceiverList.One("Lantern House", new Preparation { Clips = new ClipChoices(SessionFormats.Usual), Tracks = [new TrackChoice("t", Treatment.PrintDry)] }));
        var damage = new Damage();
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte[32, 126]).Array[1, 3].Sample(
            hits =>
            {
                var bytes = Damage.Changed(good, hits);

                damage.Take(() => ReceiversDocument.Read(bytes, "p.json"), p => Assert.Equal(p, ReceiversDocument.Read(ReceiversDocument.Write(p), "kept.json")));
            },
            iter: 2000);
        damage.BothHappened();
    }

    [Theory]
    [InlineData("\"integer 24\"", "\"integer 8\"", "$.encoding")]
    [InlineData("\"wav\"", "\"tape\"", "$.container")]
    [InlineData("\"print dry\"", "\"fly\"", "$.tracks[0].treatment")]
    [InlineData("\"tail\": 0", "\"tail\": -1", "$.tail")]
    public void A_preparation_that_asks_for_what_is_not_there_is_refused(string good, string bad, string path)
    {
        var text = Encoding.UTF8.GetString(PreparationDocument.Write(new Preparation { Clips = new ClipChoices(SessionFormats.Usual), Tracks = [new TrackChoice("t", Treatment.PrintDry)] }));
        Assert.Contains(good, text);
        var problem = Assert.Throws<BadInputException>(() => PreparationDocument.Read(Encoding.UTF8.GetBytes(text.Replace(good, bad, StringComparison.Ordinal)), "p.json"));
        Assert.Equal(path, problem.Where);
    }

    [Fact]
    public void A_claim_of_a_huge_chunk_takes_no_memory()
    {
        var bytes = WaveWriter.Head(new PcmLayout(SampleEncoding.Integer16, false, 1, Core.Time.SampleRate.Hz48000, 0, 4), new BroadcastExtension("d", "o", 1));
        var at = Encoding.Latin1.GetString(bytes).IndexOf("bext", StringComparison.Ordinal);
        BitConverter.GetBytes(0x7FFF_FFFF).CopyTo(bytes, at + 4);
        var before = GC.GetAllocatedBytesForCurrentThread();
        Assert.Throws<BadInputException>(() => WaveReader.Read(new MemoryStream(bytes), "w"));
        Assert.InRange(GC.GetAllocatedBytesForCurrentThread() - before, 0, 1 << 20);
    }
}
