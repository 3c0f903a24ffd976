using System.Numerics.Tensors;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Hearing;

/// <summary>Finds the places of a sound that are worth listening to: one reading, sample by sample only where a stretch has something to find.</summary>
public sealed class EarPlaces
{
    /// <summary>So many of a kind are said; a sound with more of them is worth listening to everywhere.</summary>
    public const int MostOfAKind = 50;

    private const int Block = 1 << 14;
    private const int ShortestSilenceSeconds = 2;
    private readonly List<EarPlace> _places = [];
    private readonly int[] _run;
    private readonly long _silence;
    private double _peak;
    private long _peakAt;
    private double _difference;
    private long _differenceAt;
    private long _first = -1;
    private long _last = -1;

    private EarPlaces(ISampleSource sound) => (_run, _silence) = (new int[sound.Channels], sound.Rate.HeaderHz * (long)ShortestSilenceSeconds);

    /// <param name="sound">What is listened to.</param>
    /// <param name="meant">Reads the same samples of what was meant; null where nothing is compared.</param>
    /// <param name="stop">Stops it between two blocks.</param>
    /// <returns>In the order of their places.</returns>
    public static IReadOnlyList<EarPlace> Of(ISampleSource sound, Action<long, int, double[][]>? meant, CancellationToken stop)
    {
        var found = new EarPlaces(sound);
        double[][] planar = Planar(sound.Channels), other = Planar(sound.Channels);
        for (long at = 0; at < sound.Length; at += Block)
        {
            stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, sound.Length - at);
            sound.Read(at, count, planar);
            found.Take(at, count, planar);
            if (meant is not null)
            {
                meant(at, count, other);
                found.Compare(at, count, planar, other);
            }
        }

        return found.Result();
    }

    private static double[][] Planar(int channels) => [.. Enumerable.Range(0, channels).Select(_ => new double[Block])];

    private void Take(long at, int count, double[][] planar)
    {
        var loudest = 0.0;
        for (var c = 0; c < planar.Length; c++)
        {
            var samples = planar[c].AsSpan(0, count);
            var magnitude = Math.Abs(TensorPrimitives.MaxMagnitude<double>(samples));
            loudest = Math.Max(loudest, magnitude);
            if (magnitude > _peak)
            {
                (_peak, _peakAt) = (magnitude, at + TensorPrimitives.IndexOfMaxMagnitude<double>(samples));
            }

            Runs(c, at, samples, magnitude);
        }

        if (loudest > SoundMeter.Silence)
        {
            Sounds(at, count, planar);
        }
    }

    private void Runs(int channel, long at, ReadOnlySpan<double> samples, double magnitude)
    {
        if (magnitude < SoundMeter.FullScale)
        {
            _run[channel] = 0;
            return;
        }

        for (var i = 0; i < samples.Length; i++)
        {
            _run[channel] = Math.Abs(samples[i]) >= SoundMeter.FullScale ? _run[channel] + 1 : 0;
            if (_run[channel] == SoundMeter.ClippedRun)
            {
                Add(EarPlaceKind.Clipped, at + i - SoundMeter.ClippedRun + 1);
            }
        }
    }

    private void Sounds(long at, int count, double[][] planar)
    {
        for (var i = 0; i < count; i++)
        {
            if (!Array.Exists(planar, p => Math.Abs(p[i]) > SoundMeter.Silence))
            {
                continue;
            }

            _first = _first < 0 ? at + i : _first;
            if (_last >= 0 && at + i - _last > _silence)
            {
                Add(EarPlaceKind.Silence, _last + 1);
            }

            _last = at + i;
        }
    }

    private void Compare(long at, int count, double[][] planar, double[][] other)
    {
        for (var c = 0; c < planar.Length; c++)
        {
            var meant = other[c].AsSpan(0, count);
            TensorPrimitives.Subtract<double>(planar[c].AsSpan(0, count), meant, meant);
            if (Math.Abs(TensorPrimitives.MaxMagnitude<double>(meant)) is var most && most > _difference)
            {
                (_difference, _differenceAt) = (most, at + TensorPrimitives.IndexOfMaxMagnitude<double>(meant));
            }
        }
    }

    // Channels that clip at once are one place.
    private void Add(EarPlaceKind kind, long sample)
    {
        if (_places.Count(p => p.Kind == kind) < MostOfAKind && !_places.Exists(p => p.Kind == kind && p.Sample == sample))
        {
            _places.Add(new EarPlace(kind, sample));
        }
    }

    private List<EarPlace> Result()
    {
        if (_first >= 0)
        {
            _places.Add(new EarPlace(EarPlaceKind.FirstSound, _first));
            _places.Add(new EarPlace(EarPlaceKind.LastSound, _last));
            _places.Add(new EarPlace(EarPlaceKind.Peak, _peakAt, Decibels.FromRatio(_peak)));
        }

        if (_difference > 0)
        {
            _places.Add(new EarPlace(EarPlaceKind.Difference, _differenceAt, Decibels.FromRatio(_difference)));
        }

        return [.. _places.OrderBy(p => p.Sample)];
    }
}
