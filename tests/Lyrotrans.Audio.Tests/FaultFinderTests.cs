using Lyrotrans.Audio.Faults;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>Faults that were planted are found, and nothing where none was. Hours of sampled instruments are bench/Lyrotrans.Bench faults.</summary>
public sealed class FaultFinderTests
{
    private const int Hz = 48_000;

    private static SoundFaults Find(double[][] channels, int block = 4096, int hz = Hz)
    {
        var finder = new FaultFinder(channels.Length, SampleRate.FromHz(hz));
        for (var at = 0; at < channels[0].Length; at += block)
        {
            var count = Math.Min(block, channels[0].Length - at);
            finder.Take([.. channels.Select(c => c.AsSpan(at, count).ToArray())], count);
        }

        return finder.Result();
    }

    private static SoundFaults Find(params double[] sound) => Find([sound]);

    /// <summary>Notes with partials that are struck and bowed, a room's noise, the steps of 24 bits.</summary>
    private static double[] Music(int seed, int seconds, int hz = Hz)
    {
        var (dice, sound) = (new Random(seed), new double[seconds * hz]);
        for (var at = 0.05; at < seconds; at += 0.1 + (dice.NextDouble() * 0.5))
        {
            var (pitch, length, struck, level) = (55 * Math.Pow(2, dice.Next(48) / 12.0), 0.4 + (2 * dice.NextDouble()), dice.Next(2) == 0, 0.02 + (0.08 * dice.NextDouble()));
            var count = (int)Math.Min(length * hz, sound.Length - (at * hz));
            for (var partial = 1; partial <= 8 && partial * pitch < hz / 2.5; partial++)
            {
                var (phase, step) = (dice.NextDouble() * 6, 2 * Math.PI * pitch * partial / hz);
                for (var i = 0; i < count; i++)
                {
                    var shape = struck ? Math.Min(1, i / 96.0) * Math.Exp(-4.0 * i * partial / hz) : Math.Min(1, i / (0.05 * hz));
                    sound[(int)(at * hz) + i] += level / partial * shape * Math.Min(1, (count - i) / (0.03 * hz)) * Math.Sin(phase + (step * i));
                }
            }
        }

        return [.. sound.Select(s => Math.Round((s + (1e-4 * (dice.NextDouble() - 0.5))) * 8_388_608) / 8_388_608)];
    }

    private static double Rms(double[] sound, int at) => Math.Sqrt(sound.AsSpan(at, 960).ToArray().Average(s => s * s));

    [Theory]
    [InlineData(44_100)]
    [InlineData(96_000)]
    public void What_was_planted_is_found_where_it_is_and_nothing_else(int hz)
    {
        var (dice, sound, planted) = (new Random(hz), Music(hz, 24, hz), new List<(int At, int Length, SoundFaultKind Kind)>());
        Assert.Empty(Find([sound], hz: hz).Faults);
        for (var at = hz; at < sound.Length - (2 * hz); at += hz / 2)
        {
            var place = at + dice.Next(hz / 4);
            if (Rms(sound, place - 960) < 5e-3 || Rms(sound, place) < 5e-3)
            {
                continue;
            }

            var length = dice.Next(24, hz / 10);
            switch (dice.Next(3))
            {
                case 0:
                    sound.AsSpan(place, length).Clear();
                    planted.Add((place, length, SoundFaultKind.Dropout));
                    break;
                case 1:
                    sound.AsSpan(place, length).Fill(sound[place - 1]);
                    planted.Add((place - 1, length + 1, SoundFaultKind.Dropout));
                    break;
                default:
                    sound[place] += Rms(sound, place) * (dice.Next(2) == 0 ? 1.5 : -1.5);
                    planted.Add((place, 1, SoundFaultKind.Click));
                    break;
            }
        }

        var found = Find([sound], hz: hz).Faults;
        Assert.True(planted.Count > 25, $"{planted.Count}");
        var right = planted.Count(p => found.Any(f => f.Kind == p.Kind && Math.Abs(f.Sample - p.At) <= 1 && Math.Abs(f.Length - p.Length) <= 1));
        Assert.True(right >= 0.95 * planted.Count, $"{right} of {planted.Count}");
        Assert.True(found.Count <= planted.Count, string.Join('\n', found.Where(f => !planted.Any(p => Math.Abs(f.Sample - p.At) < hz / 100))));
    }

    [Theory]
    [InlineData(1)]
    [InlineData(4095)]
    [InlineData(4097)]
    [InlineData(100_000)]
    public void However_the_sound_is_cut_into_blocks_the_same_is_found(int block)
    {
        var sound = Music(3, 3);
        sound[50_000] += 0.4;
        sound.AsSpan(81_919, 300).Clear();
        var whole = Find([sound]);
        Assert.Equal([(SoundFaultKind.Click, 50_000L, 1L), (SoundFaultKind.Dropout, 81_919L, 300L)], whole.Faults.Select(f => (f.Kind, f.Sample, f.Length)));
        Assert.Equal(whole.Faults, Find([sound], block).Faults);
    }

    [Fact]
    public void A_fault_is_told_with_its_channel_and_a_channel_without_sound_by_its_number()
    {
        var (left, right) = (Music(5, 2), Music(6, 2));
        right[40_000] -= 0.3;
        var found = Find([left, right, new double[left.Length]]);
        Assert.Equal([new SoundFault(SoundFaultKind.Click, 1, 40_000, 1)], found.Faults);
        Assert.Equal([2], found.SilentChannels);
    }

    [Fact]
    public void All_silent_is_no_silent_channel_and_nothing_at_all_has_no_faults()
    {
        Assert.Empty(Find([new double[9000], new double[9000]]).SilentChannels);
        var nothing = Find([[]]);
        Assert.Equal((0, 0), (nothing.Faults.Count, nothing.Count));
    }

    [Fact]
    public void What_stands_still_all_the_time_is_made_so_however_much_there_is_of_it()
    {
        // Held samples that move on: each could be a dropout, and all of them together are how the sound is made.
        var dice = new Random(4);
        var (finder, block) = (new FaultFinder(1, SampleRate.Hz48000), new double[48_000]);
        for (var second = 0; second < 240; second++)
        {
            for (var i = 0; i < block.Length; i++)
            {
                block[i] = i % 200 < 150 || i == 0 ? (0.3 * Math.Sin(i * 0.05)) + (0.01 * dice.NextDouble()) : block[i - 1];
            }

            finder.Take([block], block.Length);
        }

        Assert.Empty(finder.Result().Faults);
    }

    [Fact]
    public void Where_sound_begins_and_ends_and_where_it_was_faded_is_no_fault()
    {
        var sound = Music(9, 4);
        sound.AsSpan(0, 20_000).Clear();
        sound.AsSpan(150_000).Clear();
        for (var i = 0; i < 2400; i++)
        {
            sound[97_600 + i] *= 1 - (i / 2400.0);
            sound[104_000 + i] *= i / 2400.0;
        }

        sound.AsSpan(100_000, 4000).Clear();
        Assert.DoesNotContain(Find(sound).Faults, f => f.Kind == SoundFaultKind.Dropout);
    }

    public static TheoryData<string> Natures => new("square wave", "clipped", "eight bits", "clicks of a metronome", "noise", "pulses", "sixteen bits, quiet");

    [Theory]
    [MemberData(nameof(Natures))]
    public void What_a_sound_is_by_nature_is_no_fault(string nature)
    {
        var (dice, music) = (new Random(1), Music(11, 6));
        double[] sound = nature switch
        {
            "square wave" => [.. Enumerable.Range(0, 6 * Hz).Select(i => i / 120 % 2 == 0 ? 0.3 : -0.3)],
            "clipped" => [.. music.Select(s => Math.Clamp(s * 12, -1, 1))],
            "eight bits" => [.. music.Select(s => Math.Round(s * 128) / 128)],
            "clicks of a metronome" => [.. Enumerable.Range(0, 6 * Hz).Select(i => i % 24_000 < 1200 ? 0.6 * Math.Cos(i % 24_000 * 0.13) * Math.Exp(-(i % 24_000) / 300.0) : 0)],
            "noise" => [.. Enumerable.Range(0, 6 * Hz).Select(_ => dice.NextDouble() - 0.5)],
            "pulses" => [.. Enumerable.Range(0, 6 * Hz).Select(i => i % 480 < 60 ? 0.5 : 0)],
            _ => [.. music.Select(s => Math.Round(s * 0.01 * 32768) / 32768)],
        };
        Assert.Empty(Find(sound).Faults);
    }

    [Fact]
    public void So_many_are_kept_by_place_and_all_are_counted()
    {
        var dice = new Random(2);
        var sound = new double[1100 * 2000];
        for (var i = 0; i < sound.Length; i++)
        {
            sound[i] = (0.3 * Math.Sin(i * 0.01)) + (1e-3 * dice.NextDouble()) + (i % 2000 == 1200 ? 0.5 : 0);
        }

        var found = Find([sound], hz: 8000);
        Assert.Equal(SoundFaults.MostFaults, found.Faults.Count);
        Assert.True(found.Count > 1090, $"{found.Count}");
    }
}
