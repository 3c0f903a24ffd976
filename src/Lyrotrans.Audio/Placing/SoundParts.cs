using System.Numerics.Tensors;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;
using MathNet.Numerics.LinearAlgebra;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Of what sounds another is summed: the one that takes most of it out when it is taken out is the first, then the one that takes most of what is left, all gains found anew each time.
/// </summary>
/// <param name="Parts">The largest first; at least one where anything is alike.</param>
/// <param name="Explained">How much of its energy is these, 0 to 1.</param>
/// <param name="AsMuch">Others that are alone as much like it as the first; those that are the same as that one are not among them.</param>
/// <param name="Same">Others that are the same as the first.</param>
public sealed record SoundParts(IReadOnlyList<SoundPart> Parts, double Explained, IReadOnlyList<int> AsMuch, IReadOnlyList<int> Same)
{
    private const int Stretch = 1 << 14;

    // Less of the energy is no part: parts that keep time together are a little alike.
    private const double LeastShare = 0.01;
    private const double Alike = 0.97;
    private const double TheSame = 0.999;

    /// <param name="sent">Open the sounds; all at one rate, and all begin at one place.</param>
    /// <param name="sound">Known to lie there.</param>
    /// <param name="start">The sample of the sent that its first lies on.</param>
    /// <param name="drift">How much faster it runs than they, as a ratio.</param>
    /// <param name="rate">Of the sent.</param>
    /// <param name="stop">Heeded between stretches.</param>
    public static SoundParts Of(IReadOnlyList<Func<ISampleSource>> sent, SoughtSound sound, double start, double drift, SampleRate rate, CancellationToken stop)
    {
        var scale = rate.PerSecond.ToDouble() / AnalysisSound.Hz;
        var part = (int)(Stretch / scale);
        var begins = sound.Probe.Stretches.SelectMany((s, i) => sound.IsBrief ? All(s.At, s.Samples.Length, part) : [s.At + sound.Probe.SoundingIn(i, part)]).ToList();
        var length = Length(sound, rate);

        // A track sounds on after a sound's end, which says nothing of the sound.
        List<(long At, int Count)> Cuts(Func<int, double> place) => [.. begins.Select(at => ((long)Math.Round(place(at)), (int)Math.Clamp(length - Math.Round(at * scale), 0, Stretch)))];
        var whole = Joined(() => AtRate(sound.Sound.Open(), rate), sound.Probe.Channel, Cuts(at => at * scale), stop);
        var all = AtOnce.Select(sent, open => Joined(open, null, Cuts(at => start + (at * scale * (1 + drift))), stop), stop);
        return Of(whole, all);
    }

    // Of what is brief all is looked at: a part of one note is like a part of many.
    private static IEnumerable<int> All(int at, int length, int part) => Enumerable.Range(0, Math.Max(1, (length + part - 1) / part)).Select(n => at + Math.Max(0, Math.Min(n * part, length - part)));

    private static SoundParts Of(float[] whole, IReadOnlyList<float[]> all)
    {
        var energy = (double)TensorPrimitives.SumOfSquares<float>(whole);
        var own = all.Select(a => (double)TensorPrimitives.SumOfSquares<float>(a)).ToList();
        var cross = all.Select(a => (double)TensorPrimitives.Dot<float>(a, whole)).ToList();
        var (chosen, gains, left) = (new List<int>(), Vector<double>.Build.Dense(1), energy);
        var shares = new List<double>();
        while (energy > 0)
        {
            var open = Enumerable.Range(0, all.Count).Where(i => own[i] > 0 && !chosen.Contains(i)).ToList();
            var tries = AtOnce.Select(open, i => Left([.. chosen, i]), CancellationToken.None);
            if (tries.Count == 0 || tries.MinBy(t => t.Left) is var best && left - best.Left < LeastShare * energy)
            {
                break;
            }

            chosen.Add(open[tries.TakeWhile(t => t.Left != best.Left).Count()]);
            shares.Add((left - best.Left) / energy);
            (gains, left) = (best.Gains, best.Left);
        }

        if (chosen.Count == 0)
        {
            return new SoundParts([], 0, [], []);
        }

        double Likeness(int i) => own[i] > 0 ? Math.Abs(cross[i]) / Math.Sqrt(own[i] * energy) : 0;
        double ToFirst(int i) => own[i] > 0 ? Math.Abs(TensorPrimitives.Dot<float>(all[i], all[chosen[0]])) / Math.Sqrt(own[i] * own[chosen[0]]) : 0;
        var alike = Enumerable.Range(0, all.Count).Where(i => i != chosen[0] && Likeness(i) >= Alike * Likeness(chosen[0])).ToList();
        return new SoundParts([.. chosen.Select((c, n) => new SoundPart(c, gains[n], shares[n]))], 1 - (left / energy), [.. alike.Where(i => ToFirst(i) < TheSame)], [.. alike.Where(i => ToFirst(i) >= TheSame)]);

        (Vector<double> Gains, double Left) Left(int[] parts)
        {
            // A little is added to the diagonal so that sounds that are the same can be told from one another by neither.
            var products = Matrix<double>.Build.Dense(parts.Length, parts.Length, (a, b) => parts[a] == parts[b] ? own[parts[a]] * (1 + 1e-6) : TensorPrimitives.Dot<float>(all[parts[a]], all[parts[b]]));
            var wanted = Vector<double>.Build.Dense(parts.Length, a => cross[parts[a]]);
            var solved = products.Solve(wanted);
            return (solved, Math.Max(0, energy - solved.DotProduct(wanted)));
        }
    }

    /// <summary>Stretches of a sound, one after the other.</summary>
    private static float[] Joined(Func<ISampleSource> open, int? channel, List<(long At, int Count)> cuts, CancellationToken stop)
    {
        using var mono = new MonoSound(open(), channel);
        var joined = new float[cuts.Count * Stretch];
        for (var i = 0; i < cuts.Count; i++)
        {
            stop.ThrowIfCancellationRequested();
            mono.Read(cuts[i].At, cuts[i].Count).CopyTo(joined.AsSpan(i * Stretch));
        }

        return joined;
    }

    private static long Length(SoughtSound sound, SampleRate rate)
    {
        using var opened = AtRate(sound.Sound.Open(), rate);
        return opened.Length;
    }

    private static ISampleSource AtRate(ISampleSource source, SampleRate rate)
    {
        var converted = source.Rate == rate ? null : new ConvertedSource(source, rate);
        return converted is null ? source : new CutSource(converted, 0, converted.Length, source);
    }
}
