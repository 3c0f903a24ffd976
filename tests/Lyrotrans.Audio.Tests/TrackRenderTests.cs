using CsCheck;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class TrackRenderTests
{
    private const int Length = 4000;

    private static double[][] Noise(int channels, int seed)
    {
        var dice = new Random(seed);
        return Enumerable.Range(0, channels).Select(_ => Enumerable.Range(0, Length).Select(_ => dice.Next(-8_388_608, 8_388_608) / 8_388_608.0).ToArray()).ToArray();
    }

    private static readonly Dictionary<string, double[][]> s_sounds = new() { ["a"] = Noise(1, 1), ["b"] = Noise(2, 2) };

    private static Session Session(params Clip[] clips)
    {
        Media Of(string id, int channels) => new() { Id = id, FileName = id, Rate = SampleRate.Hz48000, Encoding = SampleEncoding.Integer24, Channels = channels, Length = Length };
        return new Session { Name = "t", Media = [Of("a", 1), Of("b", 2), Of("gone", 1)], Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", clips.ToValueArray())] }] };
    }

    private static double[] Render(Session session, int from, int count, int block)
    {
        using var render = new TrackRender(session, session.Tracks[0], new ArrayOpener(s_sounds));
        var result = new double[count];
        var into = new double[][] { new double[block] };
        for (var at = 0; at < count; at += block)
        {
            var now = Math.Min(block, count - at);
            render.Read(from + at, now, into);
            into[0].AsSpan(0, now).CopyTo(result.AsSpan(at));
        }

        return result;
    }

    /// <summary>Plain, one sample at a time, straight from the model's words.</summary>
    private static double[] Reference(Session session, int from, int count)
    {
        var result = new double[count];
        foreach (var clip in session.Tracks[0].Lanes[0].Clips.Where(c => !c.Muted && s_sounds.ContainsKey(c.Media)))
        {
            for (var n = clip.Start; n < clip.End; n++)
            {
                var source = clip.SourceOffset + n - clip.Start;
                if (n < from || n >= from + count || source >= Length)
                {
                    continue;
                }

                var into = n - clip.Start;
                var left = clip.End - 1 - n;
                var gain = Math.Pow(10, (clip.GainDb + (clip.GainCurve?.ValueAt(into) ?? 0)) / 20);
                gain *= into < clip.FadeIn.Length ? clip.FadeIn.ShapeAt((into + 0.5) / clip.FadeIn.Length) : 1;
                gain *= left < clip.FadeOut.Length ? clip.FadeOut.ShapeAt((left + 0.5) / clip.FadeOut.Length) : 1;
                result[n - from] += s_sounds[clip.Media][clip.ChannelMap[0]][source] * gain;
            }
        }

        return result;
    }

    private static readonly Gen<Clip> s_clips = Gen.Select(
        Gen.Select(Gen.Long[1, 900], Gen.Long[0, 3900], Gen.Bool), Gen.Select(Gen.Int[0, 2], Gen.Double[-20, 6]),
        Gen.Select(Gen.Int[0, 4], Gen.Int[0, 4], Gen.Double.Unit, Gen.Double.Unit)).Select((place, gain, fades) => new Clip
        {
            Id = Guid.NewGuid().ToString(),
            Name = "c",
            Media = place.Item3 ? "a" : "b",
            Length = place.Item1,
            SourceOffset = place.Item2,
            ChannelMap = [place.Item3 ? 0 : 1],
            GainDb = gain.Item1 == 0 ? 0 : gain.Item2,
            GainCurve = gain.Item1 == 2 ? new Automation([new(0, -6), new(place.Item1, 3)]) : null,
            FadeIn = new Fade((long)(place.Item1 * fades.Item3 / 2), (FadeShape)fades.Item1),
            FadeOut = new Fade((long)(place.Item1 * fades.Item4 / 2), (FadeShape)fades.Item2),
        });

    /// <summary>Clips one after another, each reaching into the one before by as much as both their fades allow.</summary>
    private static Session Chain(Clip[] clips, int overlapEvery)
    {
        var placed = new List<Clip>();
        var at = 37L;
        foreach (var clip in clips)
        {
            var overlap = placed.Count > 0 && placed.Count % overlapEvery == 0 ? Math.Min(placed[^1].FadeOut.Length, clip.FadeIn.Length) : -11;
            placed.Add(clip with { Start = at - overlap });
            at = placed[^1].End;
        }

        return Session([.. placed]);
    }

    [Fact]
    public void It_is_the_reference_render_within_minus_140_dbfs() => Gen.Select(s_clips.Array[1, 8], Gen.Int[1, 3], Gen.Int[1, 700], Gen.Int[-50, 500]).Sample((clips, every, block, from) =>
    {
        var session = Chain(clips, every);
        Assert.Empty(SessionRules.Check(session));
        var found = Render(session, from, 5000, block);
        var meant = Reference(session, from, 5000);
        return found.Zip(meant).All(p => Math.Abs(p.First - p.Second) < 1e-12);
    });

    [Fact]
    public void The_block_size_changes_nothing() => Gen.Select(s_clips.Array[1, 6], Gen.Int[1, 999]).Sample((clips, block) =>
        Render(Chain(clips, 2), 0, 4000, block).AsSpan().SequenceEqual(Render(Chain(clips, 2), 0, 4000, 4000)));

    [Fact]
    public void Untouched_audio_comes_out_bit_identical()
    {
        var session = Session(new Clip { Id = "1", Name = "1", Media = "a", Start = 100, Length = 500, SourceOffset = 7 });
        var found = Render(session, 0, 1000, 300);
        Assert.Equal(s_sounds["a"][0][7..507], found[100..600]);
        Assert.All(found[..100].Concat(found[600..]), v => Assert.Equal(0, v));
        Assert.False(TrackRender.NeedsArithmetic(session, session.Tracks[0]));
    }

    [Fact]
    public void Clip_by_clip_renders_sum_to_the_whole() => s_clips.Array[2, 6].Sample(clips =>
    {
        var whole = Chain(clips, 1);
        var sum = new double[4000];
        foreach (var clip in whole.Tracks[0].Lanes[0].Clips)
        {
            var part = Render(Session(clip), 0, 4000, 4000);
            for (var i = 0; i < sum.Length; i++)
            {
                sum[i] += part[i];
            }
        }

        return sum.AsSpan().SequenceEqual(Render(whole, 0, 4000, 4000));
    });

    [Fact]
    public void Missing_media_and_muted_clips_are_silent_and_a_clip_past_the_end_of_its_media_too()
    {
        var gone = new Clip { Id = "1", Name = "1", Media = "gone", Length = 100 };
        var muted = new Clip { Id = "2", Name = "2", Media = "a", Start = 200, Length = 100, Muted = true };
        var past = new Clip { Id = "3", Name = "3", Media = "a", Start = 300, Length = 100, SourceOffset = 3950 };
        var found = Render(Session(gone, muted, past), 0, 400, 128);
        Assert.All(found[..300].Concat(found[350..]), v => Assert.Equal(0, v));
        Assert.Equal(s_sounds["a"][0][3950..], found[300..350]);
    }

    [Fact]
    public void Channels_fold_to_their_mean_and_spread_unchanged()
    {
        var into = new double[][] { new double[2], new double[2] };
        ChannelFold.Apply([[1, 0.5], [0, 0.25]], 2, into, 1, 2);
        Assert.Equal([0.5, 0.375], into[0]);
        ChannelFold.Apply([[0.3, 0.6]], 1, into, 2, 2);
        Assert.Equal(into[0], into[1]);
        Assert.Equal([0.3, 0.6], into[0]);
    }

    /// <summary>A sine of 1 kHz at any rate, and silence behind it.</summary>
    private sealed class SineOpener(Rational perSecond) : IMediaOpener
    {
        public ISampleSource Open(Media media) => new ArraySource([Sine.Make(1000, perSecond.ToDouble(), (int)media.Length)], media.Rate);
    }

    [Theory]
    [InlineData(44_100, 1, 48_000, 2e-8)]
    [InlineData(48_000, 1, 44_100, 2e-8)]
    [InlineData(88_200, 1, 48_000, 2e-8)]
    [InlineData(96_000, 1, 44_100, 2e-8)]
    [InlineData(192_000, 1, 48_000, 2e-8)]
    [InlineData(44_100, 1, 192_000, 2e-8)]
    [InlineData(48_000_000, 1001, 48_000, 2e-8)]
    [InlineData(44_100_000, 1001, 48_000, 2e-8)]
    [InlineData(48_048, 1, 48_000, 2e-8)]
    [InlineData(44_100_000_007, 1_000_003, 48_000, 2e-7)]
    public void A_clip_of_another_rate_begins_at_its_very_sample_and_not_at_the_nearest_of_those_that_it_becomes(long rate, long over, int session, double bound)
    {
        var media = new Media { Id = "s", FileName = "s", Rate = new SampleRate(new Rational(rate, over)), Encoding = SampleEncoding.Float64, Channels = 1, Length = (rate / over) + 9000 };
        foreach (var offset in new[] { 0, 1, 7331, 20_001, 20_002, 20_011 })
        {
            var whole = new Session
            {
                Name = "t",
                Rate = SampleRate.FromHz(session),
                Media = [media],
                Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", [new Clip { Id = "1", Name = "1", Media = "s", Start = 777, Length = session / 4, SourceOffset = offset }])] }],
            };
            using var render = new TrackRender(whole, whole.Tracks[0], new SineOpener(media.Rate.PerSecond));
            double[][] sound = [new double[session / 4]];
            render.Read(777, sound[0].Length, sound);

            // Not at the medium's beginning, where the sine comes from silence and rings.
            for (var i = 4000; i < sound[0].Length - 4000; i++)
            {
                var seconds = (offset / media.Rate.PerSecond.ToDouble()) + (i / (double)session);
                Assert.Equal(0.5 * Math.Sin(2 * Math.PI * 1000 * seconds), sound[0][i], bound);
            }
        }
    }

    [Fact]
    public void Many_clips_of_one_medium_in_any_order_sound_as_each_alone()
    {
        var media = new Media { Id = "n", FileName = "n", Rate = SampleRate.Hz44100, Encoding = SampleEncoding.Float64, Channels = 1, Length = 60_000 };
        var opener = new ArrayOpener(new Dictionary<string, double[][]> { ["n"] = [Sine.Noise(60_000, 4, 0.5)] });
        var dice = new Random(3);
        var clips = Enumerable.Range(0, 40).Select(i => new Clip { Id = $"{i}", Name = $"{i}", Media = "n", Start = i * 900, Length = 900, SourceOffset = dice.Next(0, 59_000) }).ToArray();
        Session Of(params Clip[] some) => new() { Name = "t", Media = [media], Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", some.ToValueArray())] }] };
        using var all = new TrackRender(Of(clips), Of(clips).Tracks[0], opener);
        double[][] sound = [new double[700]], alone = [new double[700]];
        foreach (var clip in clips.OrderBy(_ => dice.Next()))
        {
            using var one = new TrackRender(Of(clip), Of(clip).Tracks[0], opener);
            all.Read(clip.Start + 100, 700, sound);
            one.Read(clip.Start + 100, 700, alone);
            Assert.Equal(alone[0], sound[0]);
        }
    }
}
