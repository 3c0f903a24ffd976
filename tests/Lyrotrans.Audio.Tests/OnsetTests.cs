using Lyrotrans.Audio.Click;
using Lyrotrans.Audio.Onsets;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class OnsetTests
{
    private static readonly Session s_session = new()
    {
        Name = "t",
        Bar1Sample = 31_304,
        Tempo = new TempoMap([new TempoPoint(0, 92), new TempoPoint(16, 92, Ramp: true), new TempoPoint(32, 180)]),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(5, 7, 8)]),
    };

    private static (List<ClickBeat> Beats, double[] Sound, ClickRender Render) Click(Session session, SampleRange range, double level = -6, ClickVoice voice = ClickVoice.Tones, int parts = 1)
    {
        var beats = ClickTrack.Beats(session, new ClickChoices(true, LevelDb: level, Parts: parts), range).ToList();
        var render = new ClickRender(beats, range, level, session.Rate, voice);
        var sound = new double[range.Length];
        var block = new double[1000];
        for (var at = 0; at < sound.Length; at += block.Length)
        {
            var count = Math.Min(block.Length, sound.Length - at);
            render.Read(at, count, block);
            block.AsSpan(0, count).CopyTo(sound.AsSpan(at));
        }

        return (beats, sound, render);
    }

    private static IReadOnlyList<long> Find(ClickRender render, double[] sound)
    {
        var reader = new OnsetReader(render.Quietest / 2, render.Quiet / 2);
        reader.Take(sound.AsSpan(0, 7_001));
        reader.Take(sound.AsSpan(7_001));
        return reader.Onsets;
    }

    [Theory]
    [InlineData(-6)]
    [InlineData(-24)]
    [InlineData(0)]
    public void Every_click_begins_on_the_sample_of_its_beat_ramps_included(double level)
    {
        var range = new SampleRange(-5_000, 900_000);
        var (beats, sound, render) = Click(s_session, range, level);
        Assert.True(beats.Count > 40);
        Assert.Equal(beats.Select(b => b.Sample - range.Start), Find(render, sound));
        Assert.All(beats, b => Assert.Equal(s_session.Clock.SampleAt(b.Beat.Quarter), b.Sample));
    }

    public static TheoryData<ClickVoice, int, int> Voices => new(
        from voice in Enum.GetValues<ClickVoice>()
        from parts in new[] { 1, 3, 4 }
        from hz in new[] { 8000, 48_000, 192_000 }
        select (voice, parts, hz));

    [Theory]
    [MemberData(nameof(Voices))]
    public void Every_voice_at_every_rate_begins_on_its_sample_is_never_louder_than_it_began_and_ends_in_silence(ClickVoice voice, int parts, int hz)
    {
        var (beats, sound, render) = Click(s_session with { Rate = SampleRate.FromHz(hz) }, new SampleRange(-hz / 10, hz * 15), -6, voice, parts);
        Assert.Equal(beats.Select(b => b.Sample + (hz / 10)), Find(render, sound));
        Assert.Equal(parts > 1, beats.Any(b => b.Strength == ClickStrength.Part));
        Assert.Equal(Decibels.ToRatio(-6), sound.Max(Math.Abs), 12);
        Assert.All(beats.Skip(1), b => Assert.All(sound.AsSpan((int)(b.Sample + (hz / 10)) - render.Quiet, render.Quiet).ToArray(), s => Assert.Equal(0, s)));
    }

    [Fact]
    public void Voices_differ()
    {
        var sounds = Enum.GetValues<ClickVoice>().Select(v => Click(s_session, new SampleRange(0, 100_000), -6, v).Sound).ToList();
        Assert.All(sounds.SelectMany((a, i) => sounds.Skip(i + 1).Select(b => (a, b))), p => Assert.True(p.a.Zip(p.b, (x, y) => Math.Abs(x - y)).Max() > 0.1));
    }

    [Theory]
    [InlineData(ClickVoice.Tones)]
    [InlineData(ClickVoice.Wood)]
    [InlineData(ClickVoice.Bell)]
    [InlineData(ClickVoice.Tick)]
    public void A_click_begins_at_its_level_and_the_two_sounds_differ(ClickVoice voice)
    {
        var (beats, sound, _) = Click(s_session, new SampleRange(0, 700_000), -12, voice);
        double At(ClickStrength strength) => Decibels.FromRatio(sound[beats.First(b => b.Strength == strength).Sample]);
        Assert.Equal(-12, At(ClickStrength.Bar), 9);
        Assert.Equal(-15, At(ClickStrength.Group), 9);
        Assert.Equal(-18, At(ClickStrength.Beat), 9);
        var (bar, beat) = (beats.First(b => b.Strength == ClickStrength.Bar).Sample, beats.First(b => b.Strength == ClickStrength.Beat).Sample);
        Assert.NotEqual(sound[bar + 10] / sound[bar], sound[beat + 10] / sound[beat], 3);
    }

    [Fact]
    public void Clicks_that_come_fast_keep_apart()
    {
        var fast = s_session with { Tempo = TempoMap.Constant(900), Meters = new MeterMap([new MeterChange(1, 16, 16)]) };
        var (beats, sound, render) = Click(fast, new SampleRange(0, 96_000));
        Assert.True(beats.Count > 100);
        Assert.Equal(beats.Select(b => b.Sample), Find(render, sound));
    }

    [Fact]
    public void A_click_one_sample_late_is_seen()
    {
        var (beats, sound, render) = Click(s_session, new SampleRange(100, 200_000));
        sound.AsSpan(0, sound.Length - 1).ToArray().CopyTo(sound.AsSpan(1));
        Assert.Equal(beats.Select(b => b.Sample - 100 + 1), Find(render, sound));
    }

    private static TempoEstimate? Estimate(double[] sound, double map)
    {
        var session = new Session { Name = "t" };
        var curve = new OnsetCurve(session.Rate, sound.Length + 48_000);
        var media = new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Length = sound.Length };
        curve.Add(new Clip { Id = "c", Name = "c", Media = "m", Start = 24_000, Length = sound.Length }, media, PeakPyramid.Measure(new ArraySource([sound], SampleRate.Hz48000), CancellationToken.None));
        return curve.Estimate(map);
    }

    // Struck notes of uneven level and noise under them, some beats left out and some struck between.
    private static double[] Struck(double tempo, int seconds)
    {
        var dice = new Random(5);
        var sound = new double[seconds * 48_000];
        for (var i = 0; i < sound.Length; i++)
        {
            sound[i] = (dice.NextDouble() - 0.5) * 0.01;
        }

        for (var beat = 0.0; beat < seconds * tempo / 60 - 1; beat += 0.5)
        {
            if (dice.NextDouble() < (beat % 1 == 0 ? 0.85 : 0.3))
            {
                var at = (int)((beat * 60 / tempo * 48_000) + (dice.NextDouble() * 400));
                var level = 0.2 + (dice.NextDouble() * 0.6);
                for (var n = 0; n < 12_000 && at + n < sound.Length; n++)
                {
                    sound[at + n] += level * Math.Exp(-n / 3000.0) * Math.Sin(n * 0.05);
                }
            }
        }

        return sound;
    }

    [Theory]
    [InlineData(92)]
    [InlineData(76.5)]
    [InlineData(133)]
    public void Sound_that_has_another_tempo_than_the_map_is_told(double tempo)
    {
        var estimate = Estimate(Struck(tempo, 40), 120)!;
        var octave = Math.Log2(estimate.QuartersPerMinute / tempo);
        Assert.Equal(Math.Round(octave), octave, 0.02);
        Assert.True(estimate.Disagrees, estimate.ToString());
    }

    [Fact]
    public void Sound_that_fits_the_map_or_has_no_tempo_is_left_in_peace()
    {
        Assert.False(Estimate(Struck(120, 40), 120)!.Disagrees);
        Assert.False(Estimate(Struck(60, 40), 120)!.Disagrees);
        var dice = new Random(6);
        var noise = new double[48_000 * 30];
        for (var k = 0; k < 120; k++)
        {
            var at = dice.Next(noise.Length - 4_000);
            for (var n = 0; n < 4_000; n++)
            {
                noise[at + n] += 0.5 * Math.Exp(-n / 800.0) * Math.Sin(n * 0.2);
            }
        }

        var estimate = Estimate(noise, 120);
        Assert.False(estimate!.Disagrees, estimate.ToString());
        Assert.Null(Estimate(new double[48_000 * 30], 120));
        Assert.Null(Estimate(Struck(92, 3), 120));
    }
}
