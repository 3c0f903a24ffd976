using CsCheck;
using Lyrotrans.Audio.Decoding;
using Lyrotrans.Audio.Files;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Every source gives the same samples however it is asked: in blocks of any size, from any place on, before it, over its end and behind it.</summary>
[Collection("decoders")]
public sealed class SourceTests : IDisposable
{
    private const int Frames = 120_000;
    private const int MostOfABlock = 100_000;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyrotrans-sources-").FullName;

    // Where a block begins, mostly near an end, and how long it is.
    private static readonly Gen<(long Start, int Count)[]> s_blocks = Gen.Select(
        Gen.OneOf(Gen.Long[-MostOfABlock - 10, Frames * 3], Gen.Long[-50, 50], Gen.Long[Frames - 50, Frames + 50]),
        Gen.OneOf(Gen.Int[1, 9000], Gen.Int[1, MostOfABlock])).Array[1, 6];

    public static TheoryData<SampleEncoding, bool> Linear => new(
        from encoding in new[] { SampleEncoding.Unsigned8, SampleEncoding.Signed8, SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Integer32, SampleEncoding.Float32, SampleEncoding.Float64 }
        from bigEndian in new[] { false, true }
        select (encoding, bigEndian));

    public static TheoryData<int, int> Rates => new([(44_100, 48_000), (48_000, 44_100), (96_000, 48_000), (88_200, 48_000), (192_000, 44_100), (48_048, 48_000)]);

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static double[][] Noise(int channels)
    {
        var dice = new Random(channels);
        return [.. Enumerable.Range(0, channels).Select(_ => Enumerable.Range(0, Frames).Select(_ => dice.Next(-127, 127) / 128.0).ToArray())];
    }

    private static byte[] Bytes(double[][] sound, SampleEncoding encoding, bool bigEndian)
    {
        var bytes = new byte[sound[0].Length * sound.Length * encoding.Bytes()];
        new PcmEncoder(encoding, Dither.None, bigEndian).Encode(sound, sound.Length, sound[0].Length, bytes);
        return bytes;
    }

    private static double[] Expected(double[] sound, long start, int count) =>
        [.. Enumerable.Range(0, count).Select(i => start + i >= 0 && start + i < sound.Length ? sound[start + i] : 0)];

    private static void Same(double[][] sound, Action<long, int, double[][]> read, Gen<(long Start, int Count)[]> blocks, int times) => blocks.Sample(
        asked =>
        {
            foreach (var (start, count) in asked)
            {
                // What was in the rows before must not stay, and nothing behind the block may be touched.
                double[][] into = [.. sound.Select(_ => Enumerable.Repeat(9.0, count + 3).ToArray())];
                read(start, count, into);
                for (var c = 0; c < sound.Length; c++)
                {
                    Assert.True(Expected(sound[c], start, count).AsSpan().SequenceEqual(into[c].AsSpan(0, count)), $"channel {c} of {count} samples from {start}");
                    Assert.Equal([9.0, 9.0, 9.0], into[c][count..]);
                }
            }
        },
        iter: times,
        threads: 1,
        print: a => string.Join("; ", a));

    [Theory]
    [MemberData(nameof(Linear))]
    public void Linear_samples(SampleEncoding encoding, bool bigEndian)
    {
        var sound = Noise(2);
        var bytes = Bytes(sound, encoding, bigEndian);
        using var source = new PcmSource(new MemoryStream([1, 2, 3, .. bytes, 4, 5]), new PcmLayout(encoding, bigEndian, 2, SampleRate.Hz48000, 3, Frames));
        Same(sound, source.Read, s_blocks, 20);
        s_blocks.Sample(
            asked =>
            {
                foreach (var (start, count) in asked)
                {
                    var width = encoding.Bytes() * 2;
                    var into = Enumerable.Repeat((byte)77, count * width).ToArray();
                    source.ReadBytes(start, count, into);
                    var (lead, first) = ((int)Math.Clamp(-start, 0, count), (int)Math.Clamp(start, 0, Frames));
                    var inside = (int)Math.Clamp(Math.Min(start + count, Frames) - first, 0, count);
                    byte[] Silence(int frames) => [.. Enumerable.Repeat((byte)(encoding == SampleEncoding.Unsigned8 ? 128 : 0), frames * width)];
                    byte[] expected = [.. Silence(lead), .. bytes.AsSpan(first * width, inside * width), .. Silence(count - lead - inside)];
                    Assert.True(expected.AsSpan().SequenceEqual(into), $"{count} frames from {start}");
                }
            },
            iter: 20,
            threads: 1,
            print: a => string.Join("; ", a));
    }

    [Fact]
    public void Coded_samples()
    {
        var (sound, path) = (Noise(2), Path.Combine(_folder, "a.flac"));
        using (var writer = new CodedWriter(path, CodedForm.Flac, SampleRate.Hz48000, 2, SampleEncoding.Integer16, Dither.None, "bells"))
        {
            writer.Write(sound, Frames);
            writer.Finish();
        }

        using var source = CodedSource.Open(path, "a.flac");
        Same(sound, source.Read, s_blocks, 30);
        Assert.Equal(0, source.Missing);
    }

    [Theory]
    [MemberData(nameof(Rates))]
    public void Samples_at_another_rate(int from, int to)
    {
        ConvertedSource Open() => new(new ArraySource(Noise(2), SampleRate.FromHz(from)), SampleRate.FromHz(to));
        using var whole = Open();
        double[][] sound = [new double[whole.Length], new double[whole.Length]];
        whole.Read(0, (int)whole.Length, sound);
        using var source = Open();
        Same(sound, source.Read, s_blocks, 6);
    }

    [Fact]
    public void Clips_that_run_past_their_media_are_silent_there()
    {
        var sound = Noise(1)[0];
        var media = new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Encoding = SampleEncoding.Integer24, Channels = 1, Length = Frames };
        var clip = new Clip { Id = "c", Name = "c", Media = "m", Start = 500, Length = 3 * Frames, SourceOffset = Frames / 2, ChannelMap = [0] };
        var session = new Session { Name = "Hall", Media = [media], Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", ValueArray.Create([clip]))] }] };
        using var render = new TrackRender(session, session.Tracks[0], new PcmOpener(Bytes([sound], SampleEncoding.Integer24, bigEndian: false)));
        double[] heard = [.. new double[500], .. sound[(Frames / 2)..]];
        Same([heard], render.Read, s_blocks, 20);

        // As bytes too: a clip that is not touched is copied, and may end long after its sound.
        var wanted = new PcmLayout(SampleEncoding.Integer24, false, 1, SampleRate.Hz48000, 0, 0);
        foreach (var at in new[] { 0, Frames / 2, Frames, 2 * Frames, (3 * Frames) - MostOfABlock })
        {
            var into = Enumerable.Repeat((byte)77, MostOfABlock * 3).ToArray();
            Assert.True(render.TryCopy(clip, clip.Start + at, MostOfABlock, wanted, into));
            double[][] copied = [new double[MostOfABlock]];
            PcmDecoder.Decode(into, SampleEncoding.Integer24, false, 1, copied, 0);
            Assert.Equal(Expected(heard, 500 + at, MostOfABlock), copied[0]);
        }
    }

    private sealed class PcmOpener(byte[] bytes) : IMediaOpener
    {
        public ISampleSource Open(Media media) => new PcmSource(new MemoryStream(bytes), new PcmLayout(media.Encoding, false, media.Channels, media.Rate, 0, media.Length));
    }
}
