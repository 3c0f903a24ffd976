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
    private static void Survives(Action read)
    {
        try
        {
            read();
        }
        catch (BadInputException problem)
        {
            Assert.NotEmpty(problem.Problem);
        }
    }

    [Fact]
    public void Any_bytes_behind_a_true_beginning_are_survived() => Gen.Select(Gen.Byte.Array[0, 300], Gen.Int[0, 3]).Sample(
        (tail, which) =>
        {
            byte[][] heads =
            [
                "RIFF\0\0\0\0WAVE"u8.ToArray(), "RF64\0\0\0\0WAVEds64"u8.ToArray(), "FORM\0\0\0\0AIFFCOMM"u8.ToArray(), "MThd\0\0\0\u0006\0\u0001\0\u0002\u0001\u00e0MTrk"u8.ToArray(),
            ];
            byte[] bytes = [.. heads[which], .. tail];
            Survives(() => WaveReader.Read(new MemoryStream(bytes), "w"));
            Survives(() => AiffReader.Read(new MemoryStream(bytes), "a"));
            Survives(() => Midi.SmfContents.Of(Midi.SmfReader.Read(new MemoryStream(bytes), "m")));
            ContentSniffer.Recognise(new MemoryStream(bytes));
        },
        iter: 5000);

    [Fact]
    public void Any_text_behind_the_head_of_a_marker_list_is_survived() => Gen.String.Sample(
        tail =>
        {
            var bytes = Encoding.UTF8.GetBytes("text,start samples,end timecode\n" + tail);
            Assert.Equal(ContentKind.MarkerList, ContentSniffer.Recognise(new MemoryStream(bytes)));
            Survives(() => MarkerList.MarkerListReader.Read(new MemoryStream(bytes), "m.csv"));
        },
        iter: 3000);

    [Fact]
    public void Text_without_the_columns_is_no_marker_list()
    {
        foreach (var text in new[] { "hello, this is text", "text,colour", "samples,timecode", "", "\"", "a;b;c\n1;2;3" })
        {
            Assert.NotEqual(ContentKind.MarkerList, ContentSniffer.Recognise(new MemoryStream(Encoding.UTF8.GetBytes(text))));
            Survives(() => MarkerList.MarkerListReader.Read(new MemoryStream(Encoding.UTF8.GetBytes(text)), "m.csv"));
        }
    }

    [Fact]
    public void Damaged_preparations_name_their_place()
    {
        var good = PreparationDocument.Write(new Preparation { Clips = new ClipChoices(SessionFormats.Usual), Tracks = [new TrackChoice("t", Treatment.PrintDry)] });
        Gen.Select(Gen.Int[0, good.Length - 1], Gen.Byte[32, 126]).Array[1, 3].Sample(hits =>
        {
            var bytes = (byte[])good.Clone();
            foreach (var (at, value) in hits)
            {
                bytes[at] = value;
            }

            Survives(() => PreparationDocument.Read(bytes, "p.json"));
        });
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
