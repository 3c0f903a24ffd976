using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// Finds where sounds lie in another: files that begin at their first sound in a mix, a guide or a track. It holds against level, polarity, other sounds at equal level, equalisers and compressors. The whole
/// reference is looked through for the loudest excerpt of each; what may be right is held against stretches from all over the sound, and the best is placed by what the reference makes of the sound.
/// </summary>
/// <param name="reference">Opens what is looked through.</param>
public sealed class SignalFinder(Func<ISampleSource> reference)
{
    private const double ReadingTakes = 0.4;
    private const double SearchTakes = 0.4;
    private const int MostFine = 4;

    // So many sounds take about 250 MB.
    private const int MostAtOnce = 64;
    private const double LeastAgreement = 0.25;

    // Where places differ by less, they are one: 3 ms.
    private const int Apart = 24;

    // What is less like is there by chance.
    private const double LeastCorrelation = 0.1;
    private const double LeastFound = 0.03;

    /// <summary>Samples a second at which a reference is looked through.</summary>
    public const int Hz = AnalysisSound.Hz;

    /// <summary>What is looked through is held in memory at once; longer sound than so many seconds is not looked for or through.</summary>
    public const int MostSeconds = 6 * 3600;

    /// <summary>Whether sound of one rate can be looked for in sound of another.</summary>
    public static bool CanFind(SampleRate sound, SampleRate reference) =>
        RateLimits.CanConvert(sound, reference) && RateLimits.CanConvert(sound, AnalysisSound.Rate) && RateLimits.CanConvert(reference, AnalysisSound.Rate);

    /// <summary>Where each sound lies; null where none of it is found.</summary>
    /// <param name="sounds">Each opens a sound, of a rate that it <see cref="CanFind">can be found</see> at.</param>
    /// <param name="report">Told how far it is, 0 to 1; from several threads.</param>
    /// <param name="stop">Heeded all along.</param>
    public IReadOnlyList<SignalPlace?> Find(IReadOnlyList<Func<ISampleSource>> sounds, Action<double> report, CancellationToken stop)
    {
        float[] whole;
        using (var opened = new MonoSound(reference()))
        {
            whole = opened.At(AnalysisSound.Rate).Whole(stop);
        }

        var results = new List<SignalPlace?>();
        for (var at = 0; at < sounds.Count; at += MostAtOnce)
        {
            var (from, part) = ((double)at / sounds.Count, Math.Min(MostAtOnce, sounds.Count - at));
            results.AddRange(FindSome(whole, [.. sounds.Skip(at).Take(part)], f => report(from + (f * part / sounds.Count)), stop));
        }

        return results;
    }

    private SignalPlace?[] FindSome(float[] whole, IReadOnlyList<Func<ISampleSource>> sounds, Action<double> report, CancellationToken stop)
    {
        var done = 0;
        var probes = AtOnce.Select(sounds, open =>
        {
            var probe = SoundProbe.Of(new SearchedSound(open).Analysed(stop));
            report(ReadingTakes * Interlocked.Increment(ref done) / sounds.Count);
            return probe;
        }, stop);
        var found = new Found?[sounds.Count];
        Search(whole, probes, found, 0, f => report(ReadingTakes + (SearchTakes * f)), stop);

        // Those that were hardly found are looked for by what else is in them.
        Search(whole, [.. probes.Select((p, i) => p is { Excerpts.Count: > 1 } && !(found[i]?.Agreement >= LeastAgreement) ? p : null)], found, 1, _ => { }, stop);
        var results = new SignalPlace?[sounds.Count];
        done = 0;
        AtOnce.Each(sounds.Count, i =>
        {
            results[i] = found[i] is { } best ? Fine(sounds[i], probes[i]!, OfSteady(best, probes[i]!.Period)) : null;
            report(ReadingTakes + SearchTakes + ((1 - ReadingTakes - SearchTakes) * Interlocked.Increment(ref done) / sounds.Count));
        }, stop);
        return results;
    }

    private static void Search(float[] whole, IReadOnlyList<SoundProbe?> probes, Found?[] found, int excerpt, Action<double> report, CancellationToken stop)
    {
        var kept = Enumerable.Range(0, probes.Count).Where(i => probes[i] is not null).ToList();
        if (kept.Count == 0)
        {
            return;
        }

        var places = new CoarseSearch(whole).Find([.. kept.Select(i => probes[i]!.Excerpts[excerpt])], report, stop);
        var check = new PlaceCheck(whole);
        AtOnce.Each(kept.Count, k =>
        {
            var best = Best(probes[kept[k]]!, places[k], check);
            found[kept[k]] = best?.Agreement > (found[kept[k]]?.Agreement ?? 0) ? best : found[kept[k]];
        }, stop);
    }

    private static Found? Best(SoundProbe probe, IReadOnlyList<(long Place, double Clearness)> places, PlaceCheck check)
    {
        var checks = check.Check(probe, places);
        var ranked = checks.Select(c => new Found(c.Place, places.First(p => p.Place == c.Place).Clearness, c.Lies, (double)c.Lies.Count(l => l) / c.Lies.Length, c.Correlation))
            .OrderByDescending(f => f.Agreement * f.Correlation).ToList();
        if (ranked.Count == 0 || ranked[0].Agreement == 0)
        {
            return null;
        }

        var second = ranked.Skip(1).Where(f => Math.Abs(f.Place - ranked[0].Place) > Apart && f.Correlation >= LeastCorrelation).Select(f => (Found?)f).FirstOrDefault();
        return ranked[0] with { Second = second?.Place, SecondAgreement = second?.Agreement ?? 0 };
    }

    // A steady tone could lie a period later as well.
    private static Found OfSteady(Found best, int? period) => period is null || best.Second is not null ? best : best with { Second = best.Place + period, SecondAgreement = best.Agreement };

    private SignalPlace? Fine(Func<ISampleSource> open, SoundProbe probe, Found found)
    {
        using var into = new MonoSound(reference());
        using var own = new MonoSound(open(), probe.Channel);
        var scale = into.PerSecond / AnalysisSound.Hz;
        var near = (long)Math.Round(found.Place * scale);
        var part = (int)(FinePlace.Stretch / scale);
        var stretches = probe.Stretches.Select((s, i) => (s.At, Number: i)).Where(s => found.Lies[s.Number]).Select(s => (long)Math.Round((s.At + probe.SoundingIn(s.Number, part)) * scale)).ToList();
        var few = Math.Min(MostFine, stretches.Count);
        var chosen = Enumerable.Range(0, few).Select(i => stretches[i * stretches.Count / few]).ToList();
        var place = FinePlace.Of(own.At(into.Rate), into, near, chosen);
        return place.Correlation < LeastFound ? null : new SignalPlace(
            near + place.Shift, found.Agreement, found.Lies.Count(l => l), found.Clearness, found.Second is { } second ? (long)Math.Round(second * scale) : null, found.SecondAgreement, place.Correlation,
            20 * Math.Log10(Math.Max(Math.Abs(place.Gain), 1e-9)), place.Gain < 0);
    }

    private readonly record struct Found(long Place, double Clearness, bool[] Lies, double Agreement, double Correlation)
    {
        public long? Second { get; init; }

        public double SecondAgreement { get; init; }
    }
}
