using System.Numerics.Tensors;
using Lyrotrans.Core.Collections;
using MathNet.Numerics;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Finds which of many sounds another is of, and where. Near a place that is likely only stretches are held to each of them, which is quick; anywhere, each is looked through whole.
/// </summary>
/// <param name="sent">The sounds that are looked through; all at one rate, and all begin at one place.</param>
/// <param name="perSecond">Their samples a second.</param>
public sealed class PartnerSearch(IReadOnlyList<SearchedSound> sent, double perSecond)
{
    private const int Size = 2 * SoundProbe.Stretch;
    private const int Before = SoundProbe.Stretch / 2;

    // Of sixteen stretches.
    private const int Some = 4;

    // What stands out by less is there by chance; a part of it stands out by less.
    private const double LeastClearness = 7;
    private const double LeastOfSome = 5;
    private const double LeastAgreement = 0.25;
    private const double LeastCorrelation = 0.08;

    // What is so much alike is so by more than chance, however much it is like itself.
    private const double Alone = 0.5;
    private const int Block = 1 << 17;

    // Less is alike by chance at many places.
    private const double LeastAlike = 0.3;

    // 3 ms: nearer places are one.
    private const int Apart = 24;

    // Of how like a stretch is elsewhere, where all of the sound is: what is seen of that at whole samples, and what other stretches may lack.
    private const double Between = 0.8;
    private const double LeastOfOne = 0.2;

    // Samples on each side that one between them is made of, and places between two.
    private const int Sinc = 8;
    private const int Steps = 8;

    private double Scale => perSecond / AnalysisSound.Hz;

    /// <summary>How far from the place it is looked, in seconds.</summary>
    public const double Reach = (double)Before / AnalysisSound.Hz;

    /// <summary>Which of them a sound may be of that lies within <see cref="Reach"/> of a place; the most alike first.</summary>
    /// <param name="sound">What is looked for.</param>
    /// <param name="place">The sample that its first lies on, nearly.</param>
    /// <param name="stop">Heeded between sounds.</param>
    public IReadOnlyList<PartnerPlace> Near(SoughtSound sound, double place, CancellationToken stop) => Near([.. Enumerable.Range(0, sent.Count)], sound, place, stop);

    private List<PartnerPlace> Near(IReadOnlyList<int> among, SoughtSound sound, double place, CancellationToken stop)
    {
        var near = (long)Math.Round(place / Scale);
        var all = SoughtNear.Of(sound.Probe.Stretches, stop);

        // What would have been found by its landmarks is not likely there, so that a part of it shows whether it is looked at.
        var some = LandmarkSearch.WouldFind(sound.Marks(1)) && all.Stretches.Count > Some ? SoughtNear.Of([.. all.Stretches.OrderByDescending(s => PhaseLikeness.Power(s.Samples)).Take(Some)], stop) : null;
        var found = AtOnce.Select(among, i => some is null || Near(i, near, some).Exists(p => StandsOut(p, LeastOfSome)) ? Near(i, near, all).Where(p => StandsOut(p, LeastClearness)) : [], stop);
        return [.. found.SelectMany(p => p).OrderByDescending(p => p.Correlation)];
    }

    private static bool StandsOut(PartnerPlace place, double clearness) => place.Correlation >= Alone || (place.Clearness >= clearness && place.Correlation >= LeastCorrelation);

    /// <summary>Where a sound may lie in one of them, within <see cref="Reach"/> of a place; the most alike first.</summary>
    /// <inheritdoc cref="Near(SoughtSound, double, CancellationToken)"/>
    /// <param name="of">The number of the one.</param>
    public IReadOnlyList<PartnerPlace> NearIn(int of, SoughtSound sound, double place, CancellationToken stop) => Near([of], sound, place, stop);

    /// <summary>Which of them each sound may be of, wherever it lies.</summary>
    /// <param name="sounds">What is looked for.</param>
    /// <param name="report">Told how far it is, 0 to 1.</param>
    /// <param name="stop">Heeded all along.</param>
    public IReadOnlyList<PartnerPlaces> Anywhere(IReadOnlyList<SoughtSound> sounds, Action<double> report, CancellationToken stop)
    {
        var (likely, alike) = (sounds.Select(_ => new List<(PartnerPlace Place, double Score)>()).ToList(), sounds.Select(_ => new List<PartnerPlace>()).ToList());
        for (var i = 0; i < sent.Count && sounds.Count > 0; i++)
        {
            var whole = sent[i].Analysed(stop);
            if (PhaseLikeness.Power(whole.Samples) > 0)
            {
                ByPhases(i, whole.Samples, sounds, likely, stop);
                AsItSounds(i, whole, sounds, alike, stop);
            }

            report((i + 1.0) / sent.Count);
        }

        return [.. likely.Zip(alike, (l, a) => new PartnerPlaces([.. l.OrderByDescending(p => p.Score).Select(p => p.Place)], [.. a.OrderByDescending(p => p.Correlation)]))];
    }

    private void ByPhases(int of, float[] whole, IReadOnlyList<SoughtSound> sounds, List<List<(PartnerPlace Place, double Score)>> found, CancellationToken stop)
    {
        var (check, places) = (new PlaceCheck(whole), new CoarseSearch(whole).Find([.. sounds.Select(s => s.Probe.Excerpts[0])], _ => { }, stop));
        AtOnce.Each(sounds.Count, s =>
        {
            foreach (var c in places[s].Count == 0 ? [] : check.Check(sounds[s].Probe, places[s]).Where(c => c.Lies.Any(l => l)))
            {
                var agreement = (double)c.Lies.Count(l => l) / c.Lies.Length;
                if (agreement >= LeastAgreement && c.Correlation >= LeastCorrelation)
                {
                    found[s].Add((new PartnerPlace(of, c.Place * Scale, places[s].First(p => p.Place == c.Place).Clearness, c.Correlation), agreement * c.Correlation));
                }
            }
        }, stop);
    }

    private void AsItSounds(int of, AnalysedSound whole, IReadOnlyList<SoughtSound> sounds, List<List<PartnerPlace>> found, CancellationToken stop)
    {
        var loudest = sounds.Select(s => Loudest(s)).ToList();
        var places = new AlikeSearch(whole).Find([.. loudest.Select(l => l.Samples)], LeastAlike, stop);
        AtOnce.Each(sounds.Count, s => found[s].AddRange(places[s].Select(p => p.Place - loudest[s].At).Select(at => new PartnerPlace(of, at * Scale, 0, Alike(whole, sounds[s], at, 0)))), stop);
    }

    private static (int At, float[] Samples) Loudest(SoughtSound sound) => sound.Probe.Stretches.MaxBy(s => PhaseLikeness.Power(s.Samples) * s.Samples.Length);

    /// <summary>The place that it is most alike at as it sounds, and the one that stands out most by its phases.</summary>
    private List<PartnerPlace> Near(int of, long near, SoughtNear sought)
    {
        using var mono = new MonoSound(sent[of].Open());
        var analysed = mono.At(AnalysisSound.Rate);
        var blocks = sought.Stretches.Select(s => analysed.Read(near + s.At - Before, Size)).ToList();
        var power = blocks.Average(b => PhaseLikeness.Power(b));
        if (power == 0)
        {
            return [];
        }

        var spectra = PlainLikeness.Spectra(blocks);
        var plain = sought.Plain.In(blocks, spectra, SoundProbe.Stretch);
        return [.. new[] { Clearest(plain), ByPhases(spectra, sought.Phases, power) }.Select(found =>
        {
            var single = sought.Stretches.Zip(blocks, (s, b) => PlaceCheck.Correlation(s.Samples, b, found.At)).Max(c => Math.Abs(c));
            return new PartnerPlace(of, (near + found.At - Before) * Scale, found.Clearness, Math.Max(Math.Abs(plain[found.At]), single / 2));
        })];
    }

    private static (int At, double Clearness) ByPhases(List<(Complex32[] First, Complex32[] Second)> blocks, IReadOnlyList<(Complex32[] First, Complex32[] Second)> sought, double power)
    {
        var (all, best) = (new double[SoundProbe.Stretch], (At: 0, Clearness: 0.0));
        for (var pair = 0; pair < sought.Count; pair++)
        {
            var through = PhaseLikeness.Through(blocks[pair], power);
            var likeness = PhaseLikeness.Of((through.First, sought[pair].First), (through.Second, sought[pair].Second));
            foreach (var values in new[] { Part(likeness, v => v.Real), Part(likeness, v => v.Imaginary) })
            {
                // Sound that drifts lies at one place only here and there.
                best = Clearest(values) is var peak && peak.Clearness > best.Clearness ? peak : best;
                for (var i = 0; i < all.Length; i++)
                {
                    all[i] += values[i];
                }
            }
        }

        return Clearest(all) is var summed && summed.Clearness > best.Clearness ? summed : best;
    }

    /// <summary>Whether a sound lies at another place in one of them nearly as well: a loop, or a note that comes again.</summary>
    /// <param name="of">Its number.</param>
    /// <param name="sound">What lies there.</param>
    /// <param name="place">The sample that its first lies on.</param>
    /// <param name="drift">How much faster it runs there, as a ratio.</param>
    /// <param name="asWell">How nearly, 0 to 1.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public bool IsElsewhere(int of, SoughtSound sound, double place, double drift, double asWell, CancellationToken stop)
    {
        var (analysed, here) = (sent[of].Analysed(stop), (long)Math.Round(place / Scale));
        var (mostAlike, least) = MostAlike(analysed, sound, here, drift, asWell);
        var (alike, sought) = (Alike(analysed, sound, here, drift), new PlainLikeness([mostAlike.Samples], Block));
        const int Step = Block - SoundProbe.Stretch;
        var blocks = Enumerable.Range(0, (analysed.Samples.Length + SoundProbe.Stretch + Step - 1) / Step).Select(b => ((long)b * Step) - SoundProbe.Stretch).ToList();

        // Of a loop's bars any may be the most alike by rounding: those come first at which as much of the sound lies within the track.
        var within = Within(here);
        return AtOnce.Select(blocks, from =>
        {
            var places = sought.In([analysed.Read(from, Block)], Step).Select((v, i) => (Place: from + i - Lies(mostAlike.At, drift), Likeness: Math.Abs(v)))
                .Where(p => p.Likeness >= least && Math.Abs(p.Place - here) > Apart).ToLookup(p => Within(p.Place) >= within);
            return AlikeSearch.Highest(places[true]).Concat(AlikeSearch.Highest(places[false])).Any(p => Alike(analysed, sound, p.Place, drift) >= asWell * alike);
        }, stop).Any(f => f);

        long Within(long at) => Math.Min(analysed.Samples.Length, at + Lies(sound.Probe.Length, drift)) - Math.Max(0, at);
    }

    /// <summary>
    /// The stretch that has the largest part in how like a sound is to what lies there, which may be a soft one beside other parts; and how like that stretch must be elsewhere, if all of it is as well.
    /// </summary>
    private static ((int At, float[] Samples) Stretch, double Least) MostAlike(AnalysedSound analysed, SoughtSound sound, long place, double drift, double asWell)
    {
        var all = sound.Probe.Stretches.Select(s =>
        {
            var block = analysed.Read(place + Lies(s.At, drift) - Apart, s.Samples.Length + (2 * Apart));
            var likeness = Math.Abs(PlaceCheck.Correlation(s.Samples, block, Apart));
            return (Stretch: s, Likeness: likeness, Share: likeness * Math.Sqrt((double)TensorPrimitives.SumOfSquares<float>(s.Samples) * TensorPrimitives.SumOfSquares<float>(block)));
        }).ToList();
        var most = all.MaxBy(s => s.Share);
        return (most.Stretch, most.Share > 0 ? Between * most.Likeness * Math.Max(LeastOfOne, 1 - ((1 - asWell) * all.Sum(s => s.Share) / most.Share)) : 1);
    }

    private static long Lies(int at, double drift) => (long)Math.Round(at * (1 + drift));

    /// <summary>How like a sound is to another at a place, all stretches together: 0 to 1. Between samples too, since what is the same seldom lies on one of the analysis.</summary>
    private static double Alike(AnalysedSound analysed, SoughtSound sound, long place, double drift)
    {
        const int Near = 3;
        const int Far = Near + Sinc;
        var (cross, energy, own) = (new double[(2 * Far) + 1], new double[(2 * Far) + 1], 0.0);
        foreach (var (at, stretch) in sound.Probe.Stretches)
        {
            var block = analysed.Read(place + Lies(at, drift) - Far, stretch.Length + (2 * Far));
            own += TensorPrimitives.SumOfSquares<float>(stretch);
            for (var by = 0; by < cross.Length; by++)
            {
                var other = block.AsSpan(by, stretch.Length);
                cross[by] += TensorPrimitives.Dot<float>(stretch, other);
                energy[by] += TensorPrimitives.SumOfSquares<float>(other);
            }
        }

        var best = 0.0;
        for (var step = -Near * Steps; step <= Near * Steps; step++)
        {
            var (shift, here) = ((double)step / Steps, energy[Far + (int)Math.Round((double)step / Steps)]);
            best = Math.Max(best, here > 0 && own > 0 ? Math.Abs(ValueAt(cross, Far + shift)) / Math.Sqrt(here * own) : 0);
        }

        return Math.Min(1, best);
    }

    /// <summary>What a likeness is between samples, by those around it.</summary>
    private static double ValueAt(double[] values, double at)
    {
        var sum = 0.0;
        for (var i = (int)Math.Ceiling(at - Sinc); i <= (int)Math.Floor(at + Sinc); i++)
        {
            var x = at - i;
            sum += i < 0 || i >= values.Length ? 0 : values[i] * (x == 0 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x)) * Math.Pow(Math.Cos(Math.PI * x / (2 * (Sinc + 1))), 2);
        }

        return sum;
    }

    private static double[] Part(Complex32[] likeness, Func<Complex32, float> part) => [.. Enumerable.Range(0, SoundProbe.Stretch).Select(i => (double)part(likeness[i]))];

    private static (int At, double Clearness) Clearest(double[] values)
    {
        var power = values.Sum(v => v * v) / values.Length;
        var at = Enumerable.Range(0, values.Length).MaxBy(i => Math.Abs(values[i]));
        return (at, power > 0 ? Math.Abs(values[at]) / Math.Sqrt(power) : 0);
    }

    /// <summary>Stretches that are looked for near a place.</summary>
    private sealed record SoughtNear(IReadOnlyList<(int At, float[] Samples)> Stretches, IReadOnlyList<(Complex32[] First, Complex32[] Second)> Phases, PlainLikeness Plain)
    {
        public static SoughtNear Of(IReadOnlyList<(int At, float[] Samples)> stretches, CancellationToken stop) =>
            new(stretches, AtOnce.Select([.. Enumerable.Range(0, (stretches.Count + 1) / 2)], p => PhaseLikeness.Sought(stretches[2 * p].Samples, (2 * p) + 1 < stretches.Count ? stretches[(2 * p) + 1].Samples : [], Size), stop), new PlainLikeness([.. stretches.Select(s => s.Samples)], Size));
    }
}
