using System.Numerics.Tensors;
using Lyrotrans.Core.Collections;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Follows a sound through another that holds it. It begins where the sound is most alike and goes out from there to both ends, each stretch looked for where those before it say: so a sound that runs a little faster
/// or slower is followed to its end, and its place and its drift are those that most stretches agree on.
/// </summary>
public static class SoundFollower
{
    /// <summary>Follows a sound.</summary>
    /// <param name="sound">The sound.</param>
    /// <param name="other">What holds it.</param>
    /// <param name="place">The other's sample that its first sample lies on, as far as some of it lies there; at the other's rate.</param>
    /// <param name="stop">Heeded between stretches.</param>
    /// <returns>Null where nothing of it is found there.</returns>
    public static FollowedSound? Follow(SearchedSound sound, SearchedSound other, double place, CancellationToken stop)
    {
        var (own, into) = (sound.Analysed(stop), other.Analysed(stop));
        using var followed = new MonoSound(sound.Open(), own.Channel);
        using var through = new MonoSound(other.Open(), into.Channel);
        var scale = through.PerSecond / AnalysisSound.Hz;
        var stretches = Loud(own.Samples, into.Samples, (long)Math.Round(place / scale), (int)(FinePlace.Stretch / scale)).Select(at => (long)Math.Round(at * scale)).ToList();
        return stretches.Count == 0 ? null : new Walk(followed.At(through.Rate), through, stop).From(place, stretches);
    }

    private const int Stretches = 24;

    // 40 dB below the loudest stretch is too little to know it by.
    private const double LeastEnergy = 1e-4;

    /// <summary>Where stretches begin that sound on both sides: the loudest of each part of what lies on the other, the loudest first.</summary>
    private static IEnumerable<long> Loud(float[] own, float[] into, long place, int length)
    {
        var (from, to) = (Math.Max(0, -place), Math.Min(own.Length, into.Length - place) - length);
        if (to < from)
        {
            to = from;
        }

        var count = (int)Math.Clamp((to - from + length) / length, 1, Stretches);
        var step = Math.Max(1, length / 8);
        var found = new List<(long At, double Energy)>();
        for (var i = 0; i < count; i++)
        {
            var (begin, end) = (from + ((to - from) * i / count), from + ((to - from) * (i + 1) / count));
            found.Add(Steps(begin, end, step).Select(at => (at, Math.Min(Energy(own, at, length), Energy(into, at + place, length)))).MaxBy(s => s.Item2));
        }

        var most = found.Max(f => f.Energy);
        return found.Where(f => f.Energy > LeastEnergy * most).OrderByDescending(f => f.Energy).Select(f => f.At).Distinct();
    }

    private static IEnumerable<long> Steps(long begin, long end, int step)
    {
        for (var at = begin; at <= end; at += step)
        {
            yield return at;
        }
    }

    private static double Energy(float[] sound, long at, int length)
    {
        var (from, to) = ((int)Math.Clamp(at, 0, sound.Length), (int)Math.Clamp(at + length, 0, sound.Length));
        return to > from ? TensorPrimitives.SumOfSquares<float>(sound.AsSpan(from, to - from)) : 0;
    }

    private sealed class Walk(MonoSound own, MonoSound into, CancellationToken stop)
    {
        private const int Stretch = FinePlace.Stretch;
        private const int Anchors = 6;

        // So many are looked for by one line, the same on every machine.
        private const int Together = 4;
        private const int Many = 8;
        private const int HardlyAny = 2;

        // As far as a fine place is looked for.
        private const double Reach = 30;
        private const double LeastOfBest = 0.4;

        // What is less alike where it is most alike is so by chance.
        private const double LeastCorrelation = 0.12;
        private const double LeastStray = 0.1;

        // What lies farther from the line is not on it; through filters places differ from one stretch to the next.
        private const double MostStray = 4;
        private readonly List<FollowedWindow> _known = [];

        public FollowedSound? From(double place, IReadOnlyList<long> loud)
        {
            var anchors = Look([.. loud.Take(Anchors)], _ => place).Where(w => Math.Abs(w.Window.Place - place) < Reach).ToList();
            if (anchors.Count == 0 || anchors.MaxBy(w => w.Window.Correlation) is not { Window.Correlation: > LeastCorrelation } anchor)
            {
                return null;
            }

            _known.Add(anchor.Window);
            for (long far = Stretch; far < own.Length; far *= 2)
            {
                Take([.. new[] { anchor.At - far, anchor.At + far }.Where(at => at >= 0 && at + Stretch <= own.Length && at + place >= 0 && at + place < into.Length)], anchor.Window.Correlation);
            }

            // Near ones first: what is far off lies where those nearer to it say. Where hardly any of many lies, none of it does.
            var all = new List<FollowedWindow>();
            foreach (var some in loud.OrderBy(at => Math.Abs(at - anchor.At)).Chunk(Together))
            {
                all.AddRange(Take(some, anchor.Window.Correlation).Where(w => w.Correlation > 0));
                if (all.Count >= Many && _known.Count <= HardlyAny)
                {
                    return null;
                }
            }

            var (line, most) = Fitted();
            var on = all.Where(w => Math.Abs(w.Place - line.At(w.At)) <= most && w.Correlation >= LeastOfBest * anchor.Window.Correlation).ToList();
            if (on.Count == 0)
            {
                return null;
            }

            // Places in the other's samples become places in the sound's.
            var (slope, first) = (line.Drifts ? line.Slope : 0, line.Drifts ? line.Start : line.Level);
            var gain = on.Select(w => w.Gain).Order().ElementAt(on.Count / 2);
            return new FollowedSound((-first / (1 + slope)) + 0.0, (-slope / (1 + slope)) + 0.0, 20 * Math.Log10(Math.Max(Math.Abs(gain), 1e-9)), gain < 0, on.Select(w => w.Correlation).Order().ElementAt(on.Count / 2), on.Count, all.Count);
        }

        /// <summary>The line that most places lie on, and how far from it they may lie.</summary>
        private (Line Line, double Most) Fitted()
        {
            var (line, most) = (Line.Between(_known), MostStray);
            for (var round = 0; round < 6 && _known.Count > 2; round++)
            {
                var strays = _known.Select(w => Math.Abs(w.Place - line.At(w.At))).Order().ToList();
                most = Math.Clamp(4 * strays[strays.Count / 2], LeastStray, round < 3 ? Reach : MostStray);
                var kept = _known.Where(w => Math.Abs(w.Place - line.At(w.At)) <= most).ToList();
                line = kept.Count > 1 ? Line.Through(kept) : line;
            }

            return (line, Math.Max(1, most));
        }

        private List<FollowedWindow> Take(IReadOnlyList<long> some, double best)
        {
            var line = Line.Through(_known);
            var found = Look(some, at => line.At(at + (Stretch / 2)));
            _known.AddRange(found.Where(w => w.Window.Correlation >= LeastOfBest * best && Math.Abs(w.Window.Place - line.At(w.At + (Stretch / 2))) < Reach).Select(w => w.Window).Where(w => !_known.Contains(w)));
            return [.. found.Select(w => w.Window)];
        }

        private List<(long At, FollowedWindow Window)> Look(IReadOnlyList<long> some, Func<long, double> expected)
        {
            stop.ThrowIfCancellationRequested();
            var near = some.Select(at => (long)Math.Round(expected(at))).ToList();
            var pieces = some.Zip(near).Select(p => FinePlace.Piece.Read(own, into, p.Second, p.First)).ToList();
            var found = AtOnce.Select(pieces, p => FinePlace.Of([p]), stop);
            return [.. some.Select((at, i) => (at, new FollowedWindow(at + Middle(pieces[i].Eased()), near[i] + found[i].Shift, found[i].Correlation, found[i].Gain)))];
        }

        // Of a stretch that drifts within itself, the place is that of the middle of what sounds in it.
        private static long Middle(float[] samples)
        {
            var (sum, weight) = (0.0, 1e-30);
            for (var i = 0; i < samples.Length; i++)
            {
                sum += (double)samples[i] * samples[i] * i;
                weight += (double)samples[i] * samples[i];
            }

            return (long)(sum / weight);
        }
    }

    /// <summary>The straight line that lies nearest to places, each counted by how much it is alike.</summary>
    private readonly record struct Line(double Start, double Level, double Slope, double Error)
    {
        // Half a millionth cannot be told from none.
        private const double LeastDrift = 5e-7;

        /// <summary>Whether it slopes, by more than what is measured so by chance.</summary>
        public bool Drifts => Math.Abs(Slope) > Math.Max(LeastDrift, 4 * Error);

        public double At(long at) => Start + (Slope * at);

        /// <summary>The line that slopes as most pairs of places do, which few that lie elsewhere do not turn.</summary>
        public static Line Between(List<FollowedWindow> windows)
        {
            var slopes = windows.SelectMany((a, i) => windows.Skip(i + 1).Where(b => b.At != a.At).Select(b => ((b.Place - a.Place) / (b.At - a.At), Math.Abs(b.At - a.At) * a.Correlation * b.Correlation)));
            var slope = Middle([.. slopes]);
            return new Line(Middle([.. windows.Select(w => (w.Place - (slope * w.At), w.Correlation))]), Middle([.. windows.Select(w => (w.Place, w.Correlation))]), slope, double.PositiveInfinity);
        }

        /// <summary>What half of the weight lies below; 0 where there is none.</summary>
        private static double Middle(List<(double Value, double Weight)> values)
        {
            var (half, sum) = (values.Sum(v => v.Weight) / 2, 0.0);
            return values.OrderBy(v => v.Value).FirstOrDefault(v => (sum += v.Weight) >= half).Value;
        }

        public static Line Through(List<FollowedWindow> windows)
        {
            var weight = windows.Sum(w => w.Correlation);
            var (middle, place) = (windows.Sum(w => w.Correlation * w.At) / weight, windows.Sum(w => w.Correlation * w.Place) / weight);
            var spread = windows.Sum(w => w.Correlation * (w.At - middle) * (w.At - middle));
            if (spread <= 0)
            {
                return new Line(place, place, 0, double.PositiveInfinity);
            }

            var slope = windows.Sum(w => w.Correlation * (w.At - middle) * (w.Place - place)) / spread;
            var left = windows.Sum(w => w.Correlation * Math.Pow(w.Place - place - (slope * (w.At - middle)), 2));
            return new Line(place - (slope * middle), place, slope, windows.Count > 2 ? Math.Sqrt(left / spread / (windows.Count - 2)) : double.PositiveInfinity);
        }
    }
}
