using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class SignalFinderTests
{
    // Half a millisecond.
    private const double ThroughEffects = 24;

    /// <summary>
    /// Where a sound lies in a mix that is as loud, at any level and polarity: within a sample as it is, within half a millisecond through an equaliser and a compressor. Nothing that is not there, and nothing that lies
    /// twice, is called sure.
    /// </summary>
    [Fact]
    public void What_is_called_sure_is_right_in_all_of_many_random_cases()
    {
        var found = AtOnce.Select([.. Enumerable.Range(0, Cases.Of(125))], seed =>
        {
            var hidden = new HiddenSound(seed);
            return (Hidden: hidden, Seed: seed, Place: Find(hidden.Mix, hidden.Sound));
        }, TestContext.Current.CancellationToken);
        foreach (var (hidden, seed, place) in found.Where(f => f.Place?.IsSure == true))
        {
            var bound = hidden.Through == 0 ? 1 : ThroughEffects;
            Assert.True(hidden.Times > 0 && hidden.Places.Any(p => Math.Abs(place!.Value.Sample - p) <= bound), $"case {seed}: at {place!.Value.Sample}, not {string.Join(" or ", hidden.Places)}");
            Assert.True(hidden.Through > 0 || (Math.Abs(place.Value.GainDb - Sine.Db(Math.Abs(hidden.Gain))) < 1 && place.Value.Inverted == hidden.Gain < 0), $"case {seed}: {place.Value.GainDb} dB, inverted {place.Value.Inverted}");
        }

        // The likeness of what lies there once, and the shortest of them may be lost below the others.
        var once = found.Where(f => f.Hidden.Times == 1 && f.Hidden.Sound.Length > HiddenSound.Rate).ToList();
        Assert.InRange(once.Count(f => f.Place?.IsSure == true), 0.93 * once.Count, once.Count);
        Assert.InRange(found.Count(f => f.Hidden.Times == 2 && f.Place?.IsSure == true), 0, 0.2 * found.Count(f => f.Hidden.Times == 2));
    }

    [Fact]
    public void A_second_place_makes_it_unsure_and_is_named()
    {
        var (sound, mix) = (Sine.Noise(30_000, 1, 0.5), Sine.Noise(480_000, 2, 0.01));
        Lay(sound, mix, 100_000);
        Lay(sound, mix, 300_000);
        var place = Find(mix, sound)!.Value;
        Assert.False(place.IsSure);
        Assert.Equal([100_000, 300_000], new[] { place.Nearest, (long)Math.Round(place.Second!.Value / 6.0) * 6 }.Order().Select(p => p / 10 * 10));
        Assert.Equal(0, place.Certainty);
    }

    [Theory]
    [InlineData(44_100)]
    [InlineData(96_000)]
    [InlineData(48_000)]
    [InlineData(22_050)]
    public void Sounds_at_other_rates_are_placed_in_samples_of_the_reference(int hz)
    {
        var (sound, mix) = (Smooth(Sine.Noise(200_000, 3, 0.5)), Sine.Noise(600_000, 4, 0.1));
        Lay(sound, mix, 123_456);
        using var other = new ConvertedSource(Source(sound), SampleRate.FromHz(hz));
        var planar = new[] { new double[other.Length] };
        other.Read(0, (int)other.Length, planar);
        var place = new SignalFinder(() => Source(mix)).Find([() => new ArraySource(planar, SampleRate.FromHz(hz))], _ => { }, TestContext.Current.CancellationToken)[0]!.Value;
        Assert.True(place.IsSure);
        Assert.Equal(123_456, place.Sample, 0.2);
        Assert.Equal(0, place.GainDb, 0.5);
    }

    [Fact]
    public void It_may_begin_before_the_reference_and_run_past_it()
    {
        var (sound, mix) = (Sine.Noise(500_000, 5, 0.5), Sine.Noise(400_000, 6, 0.2));
        Lay(sound, mix, -70_001);
        var place = Find(mix, sound)!.Value;
        Assert.True(place.IsSure);
        Assert.Equal(-70_001, place.Sample, 0.1);
    }

    [Fact]
    public void Channels_that_cancel_each_other_are_found_by_one_of_them()
    {
        var (sound, mix) = (Sine.Noise(100_000, 7, 0.5), Sine.Noise(300_000, 8, 0.2));
        Lay(sound, mix, 50_000);
        var against = sound.Select(v => -v).ToArray();
        var place = new SignalFinder(() => Source(mix)).Find([() => Source(sound, against)], _ => { }, TestContext.Current.CancellationToken)[0]!.Value;
        Assert.Equal(50_000, place.Sample, 0.1);
    }

    [Fact]
    public void Many_are_found_in_their_order_and_what_says_nothing_is_nowhere()
    {
        var mix = Sine.Noise(900_000, 9, 0.05);
        var sounds = Enumerable.Range(0, 70).Select(i => i % 7 == 3 ? new double[i * 1000] : i % 7 == 5 ? Sine.Noise(2000, i, 0.5) : Sine.Noise(12_000, 100 + i, 0.5)).ToList();
        var places = Enumerable.Range(0, 70).Select(i => (i * 7919 * 13) % 880_000).ToList();
        foreach (var (sound, at) in sounds.Zip(places))
        {
            Lay(sound, mix, at);
        }

        var told = new List<double>();
        var found = new SignalFinder(() => Source(mix)).Find([.. sounds.Select(s => (Func<ISampleSource>)(() => Source(s)))], f => { lock (told) { told.Add(f); } }, TestContext.Current.CancellationToken);
        for (var i = 0; i < sounds.Count; i++)
        {
            Assert.Equal(i % 7 is 3 or 5, found[i] is null);
            Assert.True(found[i] is not { } place || Math.Abs(place.Sample - places[i]) < 0.5, $"{i}");
        }

        Assert.Equal(1, told.Max(), 1e-9);
        Assert.All(told, f => Assert.InRange(f, 0, 1 + 1e-9));
    }

    [Fact]
    public void A_steady_tone_and_a_loop_are_not_sure()
    {
        var loop = Enumerable.Repeat(Sine.Noise(24_000, 11, 0.5), 20).SelectMany(l => l).ToArray();
        Assert.NotEqual(true, Find(loop, loop[..96_000])?.IsSure);
        var tone = Sine.Make(440, 48_000, 480_000);
        Assert.NotEqual(true, Find(tone, tone[100_000..200_000])?.IsSure);
        Assert.Null(Find(new double[480_000], tone[..100_000]));
    }

    [Fact]
    public void It_can_be_stopped()
    {
        using var stop = new CancellationTokenSource();
        stop.Cancel();
        Assert.Throws<OperationCanceledException>(() => new SignalFinder(() => Source(new double[48_000])).Find([() => Source(new double[48_000])], _ => { }, stop.Token));
    }

    private static SignalPlace? Find(double[] mix, double[] sound) => new SignalFinder(() => Source(mix)).Find([() => Source(sound)], _ => { }, TestContext.Current.CancellationToken)[0];

    private static double[] Smooth(double[] sound) => [.. sound.Select((v, i) => i == 0 ? v : (v + sound[i - 1]) / 2)];

    private static void Lay(double[] sound, double[] mix, int at)
    {
        for (var i = Math.Max(0, -at); i < sound.Length && at + i < mix.Length; i++)
        {
            mix[at + i] += sound[i];
        }
    }

    private static ISampleSource Source(params double[][] sound) => new ArraySource(sound, SampleRate.Hz48000);
}
