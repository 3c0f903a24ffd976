using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Hearing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>The places of a sound that are worth listening to, and how it looks from afar, held against sounds that are known.</summary>
public sealed class EarPlacesTests
{
    private sealed class Known(double[][] samples) : ISampleSource
    {
        public SampleRate Rate => SampleRate.Hz48000;

        public int Channels => samples.Length;

        public long Length => samples[0].Length;

        public void Read(long start, int count, double[][] planar)
        {
            for (var c = 0; c < samples.Length; c++)
            {
                samples[c].AsSpan((int)start, count).CopyTo(planar[c]);
            }
        }

        public void Dispose()
        {
        }
    }

    private static double[][] Made()
    {
        var left = new double[480_000];
        var right = new double[480_000];
        for (var i = 1_000; i < 100_000; i++)
        {
            left[i] = 0.3 * Math.Sin(i / 20.0);
        }

        // Silence from 100 000 on; sound again at 250 000, with its peak and a run at full scale across two blocks.
        for (var i = 250_000; i < 400_000; i++)
        {
            right[i] = 0.2 * Math.Sin(i / 30.0);
        }

        left[300_123] = -0.97;
        for (var i = 327_678; i < 327_683; i++)
        {
            right[i] = 1;
            left[i] = -1;
        }

        // Two at full scale are no run.
        right[350_000] = right[350_001] = 1;
        return [left, right];
    }

    [Fact]
    public void Every_place_is_on_its_sample()
    {
        var made = Made();
        using var sound = new Known(made);
        var places = EarPlaces.Of(sound, null, CancellationToken.None);
        var last = Enumerable.Range(0, 480_000).Last(i => Math.Abs(made[0][i]) > 1e-6 || Math.Abs(made[1][i]) > 1e-6);
        Assert.Equal(
            [(EarPlaceKind.FirstSound, 1_000L), (EarPlaceKind.Silence, 100_000L), (EarPlaceKind.Clipped, 327_678L), (EarPlaceKind.Peak, 327_678L), (EarPlaceKind.LastSound, (long)last)],
            places.Select(p => (p.Kind, p.Sample)).OrderBy(p => p.Sample).ThenBy(p => p.Kind == EarPlaceKind.Peak));
        Assert.Equal(0, places.Single(p => p.Kind == EarPlaceKind.Peak).Db!.Value, 9);
    }

    [Fact]
    public void The_largest_difference_is_found_where_it_is_and_none_is_said_where_there_is_none()
    {
        using var sound = new Known(Made());
        var other = Made();
        Assert.DoesNotContain(EarPlaces.Of(sound, (at, count, into) => Copy(other, at, count, into), CancellationToken.None), p => p.Kind == EarPlaceKind.Difference);
        other[1][260_001] += 0.001;
        other[0][90_000] -= 0.0005;
        var found = EarPlaces.Of(sound, (at, count, into) => Copy(other, at, count, into), CancellationToken.None).Single(p => p.Kind == EarPlaceKind.Difference);
        Assert.Equal(260_001, found.Sample);
        Assert.Equal(-60, found.Db!.Value, 6);
    }

    [Fact]
    public void Silence_has_no_places_and_many_of_a_kind_are_bounded()
    {
        using var silent = new Known([new double[100_000]]);
        Assert.Empty(EarPlaces.Of(silent, null, CancellationToken.None));
        var square = new double[200_000];
        for (var i = 0; i < square.Length; i++)
        {
            square[i] = i / 10 % 2 == 0 ? 1 : 0.5;
        }

        using var loud = new Known([square]);
        Assert.Equal(EarPlaces.MostOfAKind, EarPlaces.Of(loud, null, CancellationToken.None).Count(p => p.Kind == EarPlaceKind.Clipped));
    }

    [Fact]
    public void An_outline_has_the_lowest_and_highest_of_every_column()
    {
        var samples = new double[480 * 256];
        for (var column = 0; column < 480; column++)
        {
            samples[(column * 256) + 3] = column / 480.0;
            samples[(column * 256) + 9] = -(479 - column) / 480.0;
        }

        using var sound = new Known([samples]);
        var outline = SoundOutline.Of(sound, CancellationToken.None);
        for (var column = 0; column < 480; column++)
        {
            Assert.InRange(outline[(2 * column) + 1], (column / 480.0 * 255) - 1.5, (column / 480.0 * 255) + 1);
            Assert.InRange(outline[2 * column], ((479 - column) / 480.0 * 255) - 1.5, ((479 - column) / 480.0 * 255) + 1);
        }

        using var nothing = new Known([[]]);
        Assert.All(SoundOutline.Of(nothing, CancellationToken.None), b => Assert.Equal(0, b));
    }

    private static void Copy(double[][] from, long at, int count, double[][] into)
    {
        for (var c = 0; c < from.Length; c++)
        {
            from[c].AsSpan((int)at, count).CopyTo(into[c]);
        }
    }
}
