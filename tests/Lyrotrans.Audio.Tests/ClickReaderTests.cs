using Lyrotrans.Audio.Click;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Clicks of our own and clicks made otherwise, heard to the sample.</summary>
public class ClickReaderTests
{
    private static readonly SampleRate s_rate = SampleRate.Hz48000;

    private static readonly Session s_piece = new()
    {
        Name = "t",
        Rate = s_rate,
        Tempo = new TempoMap([new TempoPoint(0, new Rational(185, 2)), new TempoPoint(32, new Rational(185, 2), true), new TempoPoint(48, 120), new TempoPoint(80, 76)]),
        Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(9, 3, 4)]),
        Bar1Sample = 12_345,
    };

    private static readonly IReadOnlyList<ClickBeat> s_beats = ClickTrack.Beats(s_piece, new ClickChoices(), new SampleRange(12_345, s_piece.Clock.SampleAt(128)));
    private static readonly SampleRange s_whole = new(0, s_beats[^1].Sample + 48_000);

    private static double[] Silence() => new double[s_whole.Length];

    private static IReadOnlyList<HeardClick> Read(params double[][] sound) => ClickReader.Read(new ArraySource(sound, s_rate), CancellationToken.None);

    // Every click by a sound of the caller's: its strength and the sample within it.
    private static double[] Made(Func<ClickStrength, int, double> sound, int length)
    {
        var file = Silence();
        foreach (var beat in s_beats)
        {
            for (var i = 0; i < length; i++)
            {
                file[beat.Sample + i] += sound(beat.Strength, i);
            }
        }

        return file;
    }

    private static void Tells(double[] file, int late, int within, ClickAccents by)
    {
        var clicks = Read(file);
        Assert.Equal(s_beats.Count, clicks.Count);
        Assert.All(clicks.Zip(s_beats), p => Assert.InRange(p.First.Sample - p.Second.Sample, late - within, late + within));
        var map = ClickMap.Read(clicks, s_rate)!;
        Assert.Equal((s_piece.Meters, by), (map.Map.Meters, map.Accents));
        Assert.InRange(map.Map.Bar1Sample, 12_345 + late - within, 12_345 + late + within);
        Assert.InRange(map.Map.Tempo.Points.Count, 3, 6);
        Assert.Contains(map.Map.Tempo.Points, p => p.Ramp);
        Assert.InRange(map.Latest - map.Earliest, 0, 2 + (2 * within));
    }

    [Fact]
    public void Our_own_click_is_heard_to_the_sample_and_its_map_is_the_session_s()
    {
        var file = Silence();
        new ClickRender(s_beats, s_whole, -6, s_rate).Read(0, file.Length, file);
        Tells(file, 0, 0, ClickAccents.Level);
        Assert.Equal(s_piece.Tempo.Points.Select(p => p.QuartersPerMinute), ClickMap.Read(Read(file), s_rate)!.Map.Tempo.Points.Select(p => p.QuartersPerMinute));
    }

    [Fact]
    public void A_beep_from_silence_begins_with_its_first_sample_by_pitch_alone() =>
        Tells(Made((s, i) => 0.4 * Math.Sin(2 * Math.PI * (s == ClickStrength.Bar ? 2000 : 1000) * i / 48_000) * (i < 960 ? 1 : 0), 1000), 1, 0, ClickAccents.Pitch);

    [Fact]
    public void Noise_that_rises_slowly_and_rings_long_is_heard_by_its_level()
    {
        var dice = new Random(3);
        var noise = Enumerable.Range(0, 14_000).Select(_ => (2 * dice.NextDouble()) - 1).ToArray();
        Tells(Made((s, i) => (s == ClickStrength.Bar ? 0.8 : 0.25) * noise[i] * Math.Min(1, i / 96.0) * Math.Exp(-i / 3000.0), 14_000), 1, 1, ClickAccents.Level);
    }

    [Fact]
    public void A_quiet_click_over_noise_in_the_louder_channel_of_two_is_heard()
    {
        var dice = new Random(5);
        var file = Made((s, i) => (s == ClickStrength.Bar ? 0.02 : 0.008) * Math.Cos(2 * Math.PI * 900 * i / 48_000) * Math.Exp(-i / 400.0), 3000);
        var clicks = Read([.. file.Select(_ => 1e-5 * dice.NextDouble())], [.. file.Select(x => x + (1e-5 * ((2 * dice.NextDouble()) - 1)))]);
        Assert.Equal(s_beats.Select(b => b.Sample), clicks.Select(c => c.Sample));
    }

    [Fact]
    public void Silence_and_a_steady_tone_have_no_clicks()
    {
        Assert.Empty(Read(Silence()));
        Assert.Empty(Read(Array.Empty<double>()));
        Assert.InRange(Read(Enumerable.Range(0, 480_000).Select(i => Math.Sin(i * 0.05)).ToArray()).Count, 0, 1);
    }
}
