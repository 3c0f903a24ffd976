using Lyrotrans.Audio.Placing;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Finding by landmarks which of many sounds another is of, and where.</summary>
public class LandmarkTests
{
    private const int Hz = 8_000;
    private const int Length = 60 * Hz;
    private static readonly double[][] s_sent = [.. Enumerable.Range(0, 4).Select(i => Notes(i + 1, Length))];
    private static readonly LandmarkSearch s_search = new([.. s_sent.Select(Marks)], Hz, CancellationToken.None);

    [Fact]
    public void A_spectrum_is_what_the_definition_of_the_transform_says()
    {
        const int Size = 64, Hop = 24;
        var random = new Random(3);
        var samples = Enumerable.Range(0, 1000).Select(_ => (float)((2 * random.NextDouble()) - 1)).ToArray();
        var spectra = Spectrogram.Of(samples, Size, Hop, TestContext.Current.CancellationToken);
        Assert.Equal(((1000 - Size) / Hop) + 1, spectra.Length);
        foreach (var (spectrum, t) in spectra.Select((s, t) => (s, t)))
        {
            for (var f = 1; f < Size / 2; f++)
            {
                var sum = System.Numerics.Complex.Zero;
                for (var i = 0; i < Size; i++)
                {
                    var window = 0.5 - (0.5 * Math.Cos(2 * Math.PI * i / (Size - 1)));
                    sum += samples[(t * Hop) + i] * window * System.Numerics.Complex.FromPolarCoordinates(1, -2 * Math.PI * f * i / Size);
                }

                Assert.Equal(2 * sum.Magnitude, spectrum[f], 1e-4);
            }
        }

        Assert.Empty(Spectrogram.Of(samples[..(Size - 1)], Size, Hop, TestContext.Current.CancellationToken));
    }

    [Theory]
    [InlineData(0, 0.0)]
    [InlineData(1, 1.0)]
    [InlineData(3, 2.0)]
    public void A_piece_of_a_sound_is_found_at_its_place_under_noise_and_another_nowhere(int of, double noise)
    {
        const int From = 98_765;
        var piece = s_sent[of][From..(From + (30 * Hz))];
        var places = s_search.Find(Marks(Noisy(piece, noise)), TestContext.Current.CancellationToken);
        Assert.Equal(of, places[0].Of);
        Assert.Equal(From, places[0].Place, (double)LandmarkPeaks.Hop);
        Assert.Empty(s_search.Find(Marks(Noisy(Notes(99, 30 * Hz), noise)), TestContext.Current.CancellationToken));
    }

    [Fact]
    public void What_begins_before_the_sound_lies_at_a_place_before_it()
    {
        double[] late = [.. new double[20_000], .. s_sent[2][..(20 * Hz)]];
        Assert.Equal(-20_000, s_search.Find(Marks(late), TestContext.Current.CancellationToken)[0].Place, (double)LandmarkPeaks.Hop);
    }

    [Theory]
    [InlineData(147.0 / 160)]
    [InlineData(1.001)]
    [InlineData(25.0 / 24)]
    public void A_sound_at_another_speed_is_found_by_its_landmarks_at_the_right_one_only(double factor)
    {
        // Its rate has to be multiplied by the factor to be right: as it is said to be, it runs 1/factor times as fast.
        var wrong = Notes(2, (int)(Length * factor), 1 / factor);
        var peaks = LandmarkPeaks.Of([.. wrong.Select(s => (float)s)], TestContext.Current.CancellationToken);
        int Most(double speed) => s_search.Find(peaks.Marks(speed), TestContext.Current.CancellationToken).FirstOrDefault(p => p.Of == 1 && Math.Abs(p.Place) <= LandmarkPeaks.Hop).Votes;
        Assert.True(Most(factor) > 4 * Math.Max(Most(1), 20), $"{Most(factor)} {Most(1)}");
    }

    [Fact]
    public void Landmarks_are_read_as_they_were_written_and_what_is_damaged_is_refused()
    {
        using var kept = new MemoryStream();
        var marks = Marks(s_sent[0]);
        marks.Write(kept);
        kept.Position = 0;
        var again = Landmarks.Read(kept);
        Assert.Equal(marks.Count, again.Count);
        var (votes, before) = Assert.Single(new LandmarkIndex([again]).VotesFor(marks));
        Assert.True(votes[before] >= marks.Count);
        foreach (var (at, value) in new[] { (0, (byte)255), (3, (byte)0x7F), (11, (byte)0x80), (11, (byte)0x7F), (11, (byte)0x01), (7, (byte)0x7F), (7, (byte)0x01) })
        {
            var bytes = kept.ToArray();
            bytes[at] = value;
            Assert.ThrowsAny<Exception>(() => Landmarks.Read(new MemoryStream(bytes)) is { Count: var count } && count == marks.Count ? "read" : throw new InvalidDataException("Other landmarks."));
        }

        Assert.Throws<EndOfStreamException>(() => Landmarks.Read(new MemoryStream(kept.ToArray()[..3])));
        Assert.Throws<InvalidDataException>(() => Landmarks.Read(new MemoryStream(kept.ToArray()[..^1])));
    }

    [Fact]
    public void An_index_of_many_counts_what_one_by_one_counts()
    {
        var all = s_sent.Select(Marks).Append(Marks([])).ToList();
        var sought = Marks(s_sent[2][5000..90_000]);
        var found = new LandmarkIndex(all).VotesFor(sought).ToList();
        Assert.Equal(all.Count, found.Count);
        Assert.Empty(found[^1].Votes);
        foreach (var (marks, (votes, before)) in all.Zip(found).SkipLast(1))
        {
            var counted = new int[votes.Length];
            for (var i = 0; i < marks.Count; i++)
            {
                for (var k = 0; k < sought.Count; k++)
                {
                    counted[Math.Abs(marks.Key[i] - sought.Key[k]) <= 1 ? marks.Time[i] - sought.Time[k] + before : 0] += Math.Abs(marks.Key[i] - sought.Key[k]) <= 1 ? 1 : 0;
                }
            }

            Assert.Equal(counted, votes);
        }

        Assert.True(found[2].Votes.Max() > 4 * found[0].Votes.Max());
    }

    [Fact]
    public void What_is_silent_short_or_steady_has_too_few_to_be_found_by()
    {
        foreach (var sound in new[] { new double[Length], Notes(1, 100), [], [.. Enumerable.Range(0, Length).Select(i => Math.Sin(2 * Math.PI * 440 * i / Hz))] })
        {
            Assert.False(LandmarkSearch.WouldFind(Marks(sound)));
        }

        Assert.True(LandmarkSearch.WouldFind(Marks(s_sent[0])));
    }

    private static Landmarks Marks(double[] sound) => Landmarks.Of(new SearchedSound(() => new ArraySource([sound], SampleRate.FromHz(Hz))), TestContext.Current.CancellationToken);

    private static double[] Noisy(double[] sound, double level)
    {
        var (random, rms) = (new Random(17), Math.Sqrt(sound.Average(s => s * s)));
        return [.. sound.Select(s => s + (level * rms * Math.Sqrt(12) * (random.NextDouble() - 0.5)))];
    }

    /// <summary>Notes that are struck and die away, each at its own time and pitch; all of it at another speed.</summary>
    private static double[] Notes(int seed, int length, double speed = 1)
    {
        var (random, result) = (new Random(seed), new double[length]);
        for (var at = 0.1; at * Hz / speed < length; at += 0.05 + (0.2 * random.NextDouble()))
        {
            var (hz, level) = (100 * Math.Pow(20, random.NextDouble()), 0.1 + random.NextDouble());
            var begin = (int)Math.Ceiling(at * Hz / speed);
            for (var i = begin; i < Math.Min(length, begin + (0.8 * Hz / speed)); i++)
            {
                var t = (i * speed / Hz) - at;
                result[i] += level * Math.Exp(-6 * t) * (Math.Sin(2 * Math.PI * hz * t) + (0.5 * Math.Sin(4.02 * Math.PI * hz * t)));
            }
        }

        return result;
    }
}
