using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>A sound that was followed lies where it was put and runs as it was made to run, whatever it is made of.</summary>
public sealed class SoundFollowerTests
{
    private const int Hz = 48_000;
    private const double Seconds = 12;

    // Notes that swell and die away, with five harmonics each: nothing of them is short or noisy, so their phases are few.
    private sealed class Swells
    {
        private readonly List<(double From, double To, double Hz, double Level)> _notes = [];

        public Swells(int seed)
        {
            var random = new Random(seed);
            for (var at = 0.0; at < Seconds;)
            {
                var length = 0.2 + (0.8 * random.NextDouble());
                _notes.Add((at, at + length, 110 * Math.Pow(2, random.Next(36) / 12.0), 0.05 + (0.15 * random.NextDouble())));
                at += 0.1 + (1.2 * random.NextDouble());
            }
        }

        public double[] Play(double firstSample, double speed, double seconds) => [.. Enumerable.Range(0, (int)(seconds * Hz)).Select(i => At((firstSample + (i * speed)) / Hz))];

        private double At(double time) => _notes.Where(n => time >= n.From && time < n.To)
            .Sum(n => n.Level * Math.Pow(Math.Sin(Math.PI * (time - n.From) / (n.To - n.From)), 2) * Enumerable.Range(1, 5).Sum(k => Math.Sin(2 * Math.PI * n.Hz * k * (time - n.From)) / k));
    }

    [Theory]
    [InlineData(1, 134, 16.9)]
    [InlineData(2, 4_134.4, -8)]
    [InlineData(3, 90_000.7, 60)]
    [InlineData(4, 0, -100)]
    [InlineData(5, 30_001, 0)]
    public void Swelling_tones_that_drift_lie_within_a_third_of_a_sample(int seed, double start, double ppm)
    {
        var notes = new Swells(seed);
        var (memory, speed) = (new AnalysisMemory(), 1 + (ppm / 1e6));
        SearchedSound Sound(double[] samples) => new(() => new ArraySource([samples], SampleRate.FromHz(Hz)), memory);
        var found = SoundFollower.Follow(Sound(notes.Play(0, 1, Seconds)), Sound(notes.Play(start, speed, 7.5)), -start, TestContext.Current.CancellationToken);
        Assert.NotNull(found);
        Assert.Equal(start, found.Start, 0.3);
        Assert.Equal(ppm, found.Drift * 1e6, 1.0);
        Assert.True(found.IsNoChance);
    }
}
