using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>
/// Which sent sound each medium of the other side holds, by the sound itself: samples that are the same at the place that length, time stamp or name suggest, at any depth; else wherever the sound is found.
/// </summary>
public sealed class ArrivalSounds : IDisposable
{
    // Half a step of 16 bits and its dither: what a change of depth does to a sample.
    private const double Bound = 2.5 / 32768;
    private const int Window = 4096;
    private const int Windows = 6;

    // What is quieter all through is told apart by nothing.
    private const double LeastPeak = 1e-3;

    // Looked for in so many sounds at most, where nothing suggests a place.
    private const int MostSearched = 32;

    // Where else a place lies that is known at the rate of the analysis.
    private const int Beside = 12;
    private readonly List<(Media Media, ISampleSource Source)> _sent = [];
    private readonly List<(Media Media, ISampleSource Source)> _found = [];
    private readonly LoadedSession _sentSession;
    private readonly CancellationToken _stop;

    private ArrivalSounds(LoadedSession sent, LoadedSession found, CancellationToken stop)
    {
        (_sentSession, _stop) = (sent, stop);
        Open(sent, _sent);
        Open(found, _found);
    }

    /// <inheritdoc/>
    public void Dispose()
    {
        foreach (var (_, source) in _sent.Concat(_found))
        {
            source.Dispose();
        }
    }

    /// <summary>For media of the other side, by their ids; those whose sound is not here, or is of nothing that was sent, are left out.</summary>
    /// <param name="sent">What was sent, with its sound.</param>
    /// <param name="found">What the other side has, with its sound.</param>
    /// <param name="known">What is known already, and not looked for again.</param>
    /// <param name="everywhere">Whether a sound that lies at no place that is suggested is looked for wherever it may lie.</param>
    /// <param name="report">Told how far it is, 0 to 1.</param>
    /// <param name="stop">Heeded all along.</param>
    public static SoundOrigins Origins(LoadedSession sent, LoadedSession found, IReadOnlyDictionary<string, FoundOrigin> known, bool everywhere, Action<double> report, CancellationToken stop)
    {
        using var sounds = new ArrivalSounds(sent, found, stop);
        var origins = known.ToDictionary();
        var unknown = sounds._found.Where(f => !origins.ContainsKey(f.Media.Id)).ToList();
        for (var i = 0; i < unknown.Count; i++)
        {
            stop.ThrowIfCancellationRequested();
            if (sounds.Suggested(unknown[i]) is { } origin)
            {
                origins[unknown[i].Media.Id] = origin;
            }

            report(0.5 * (i + 1) / unknown.Count);
        }

        if (everywhere)
        {
            sounds.Search(origins, f => report(0.5 + (0.5 * f)));
        }

        return new SoundOrigins(origins, Heard(sounds._sent), Heard(sounds._found.Where(f => !origins.ContainsKey(f.Media.Id))));
    }

    private static HashSet<string> Heard(IEnumerable<(Media Media, ISampleSource Source)> sounds) => [.. sounds.Where(s => Probes(s.Source).Count > 0).Select(s => s.Media.Id)];

    // A file that cannot be read here has no sound to be known by; it is compared by its places.
    private static void Open(LoadedSession session, List<(Media Media, ISampleSource Source)> into)
    {
        foreach (var medium in session.Session.Media)
        {
            try
            {
                if (session.Media.FileOf(medium) is { } file)
                {
                    into.Add((medium, SoundFile.Open(file, medium.FileName).Source));
                }
            }
            catch (BadInputException)
            {
                continue;
            }
        }
    }

    private FoundOrigin? Suggested((Media Media, ISampleSource Source) found)
    {
        var probes = Probes(found.Source);
        if (probes.Count == 0)
        {
            return null;
        }

        // The same length first, then the same name: most are what they were.
        foreach (var sent in _sent.Where(s => s.Source.Rate == found.Source.Rate).OrderBy(s => s.Source.Length != found.Source.Length).ThenBy(s => s.Media.ShortName != found.Media.ShortName))
        {
            foreach (var offset in Offsets(sent.Media, found.Media))
            {
                if (Holds(sent.Source, found.Source, offset, probes))
                {
                    return new FoundOrigin(sent.Media.Id, offset, ArrivalBasis.Sound);
                }
            }
        }

        return null;
    }

    private static IEnumerable<long> Offsets(Media sent, Media found)
    {
        yield return 0;
        if (sent.TimeReference is { } ours && found.TimeReference is { } theirs && ours != theirs)
        {
            yield return theirs - ours;
        }
    }

    /// <summary>Windows of a sound that are loud enough to know it by, spread over all of it.</summary>
    private static List<(long At, double[][] Samples)> Probes(ISampleSource source)
    {
        var result = new List<(long At, double[][] Samples)>();
        const int Looks = 4 * Windows;
        for (var i = 0; i < Looks; i++)
        {
            var at = Math.Max(0, source.Length - Window) * i / Math.Max(1, Looks - 1);
            var samples = Read(source, at, (int)Math.Min(Window, source.Length - at));
            if (samples.Max(c => c.Length == 0 ? 0 : c.Max(Math.Abs)) > LeastPeak && (result.Count == 0 || result[^1].At != at))
            {
                result.Add((at, samples));
            }
        }

        // The first and the last of them, and others between: a sound may be itself up to its middle alone.
        return result.Count <= Windows ? result : [.. Enumerable.Range(0, Windows).Select(i => result[i * (result.Count - 1) / (Windows - 1)])];
    }

    // What sounds in the one sounds in the other, both ways: a file that falls silent in its middle is another.
    private static bool Holds(ISampleSource sent, ISampleSource found, long offset, List<(long At, double[][] Samples)> probes) => Has(sent, found, offset, probes)
        && Has(sent, found, offset, [.. Probes(sent).Select(p => (At: p.At - offset, Count: p.Samples[0].Length)).Where(p => p.At >= 0 && p.At + p.Count <= found.Length).Select(p => (p.At, Read(found, p.At, p.Count)))]);

    // Every channel that was found is one that was sent: of one alone any.
    private static bool Has(ISampleSource sent, ISampleSource found, long offset, List<(long At, double[][] Samples)> probes)
    {
        var candidates = Enumerable.Range(0, found.Channels).Select(c => found.Channels == sent.Channels ? new HashSet<int> { c } : Enumerable.Range(0, sent.Channels).ToHashSet()).ToList();
        foreach (var (at, samples) in probes)
        {
            // What lies before the sound that was sent, or after it, is silence.
            var ours = Read(sent, at + offset, samples[0].Length);
            for (var c = 0; c < samples.Length; c++)
            {
                candidates[c].RemoveWhere(o => !Same(ours[o], samples[c]));
                if (candidates[c].Count == 0)
                {
                    return false;
                }
            }
        }

        return true;
    }

    private static bool Same(double[] sent, double[] found)
    {
        for (var i = 0; i < sent.Length; i++)
        {
            if (Math.Abs(sent[i] - found[i]) > Bound)
            {
                return false;
            }
        }

        return true;
    }

    private static double[][] Read(ISampleSource source, long at, int count)
    {
        var samples = Enumerable.Range(0, source.Channels).Select(_ => new double[Math.Max(0, count)]).ToArray();
        if (count > 0)
        {
            source.Read(at, count, samples);
        }

        return samples;
    }

    /// <summary>Looks for what nothing suggested a place for, in each sound that was sent.</summary>
    private void Search(Dictionary<string, FoundOrigin> origins, Action<double> report)
    {
        var lost = _found.Where(f => !origins.ContainsKey(f.Media.Id) && Probes(f.Source).Count > 0).ToList();
        var searched = _sent.Where(s => SignalFinder.CanFind(s.Source.Rate, s.Source.Rate)).OrderByDescending(s => s.Source.Length).Take(MostSearched).ToList();
        for (var i = 0; i < searched.Count && lost.Count > 0; i++)
        {
            var (medium, source) = searched[i];
            var here = lost.Where(l => SignalFinder.CanFind(l.Source.Rate, source.Rate)).ToList();
            var places = new SignalFinder(() => Again(_sentSession, medium)).Find([.. here.Select(h => new Func<ISampleSource>(() => new Kept(h.Source)))], _ => { }, _stop);
            foreach (var (place, one) in places.Zip(here).Where(p => p.First is { Inverted: false }))
            {
                // Music that repeats itself fits in several places, and at one of them to the very samples.
                var exact = Exact(source, one.Source, place!.Value);
                if ((exact ?? (place.Value.IsSure ? place.Value.Nearest : null)) is { } at)
                {
                    // At another rate no sample is the same.
                    origins[one.Media.Id] = new FoundOrigin(medium.Id, at, ArrivalBasis.Sound, exact is null && source.Rate == one.Source.Rate);
                    lost.Remove(one);
                }
            }

            report((i + 1.0) / searched.Count);
        }
    }

    // Where the very samples lie a little beside what was found, they say the place.
    private static long? Exact(ISampleSource sent, ISampleSource found, SignalPlace place)
    {
        var (probes, near) = (Probes(found), new[] { place.Nearest, place.Second }.OfType<long>());
        return sent.Rate != found.Rate || probes.Count == 0 ? null
            : near.SelectMany(n => Enumerable.Range(0, (2 * Beside) + 1).Select(d => n + (d % 2 == 0 ? d / 2 : -((d + 1) / 2)))).Select(at => (long?)at).FirstOrDefault(at => Holds(sent, found, at!.Value, probes));
    }

    private static ISampleSource Again(LoadedSession session, Media medium) => SoundFile.Open(session.Media.FileOf(medium)!, medium.FileName).Source;

    /// <summary>A source that is closed by whoever opened it.</summary>
    private sealed class Kept(ISampleSource source) : ISampleSource
    {
        public int Channels => source.Channels;

        public long Length => source.Length;

        public Core.Time.SampleRate Rate => source.Rate;

        public void Read(long start, int count, double[][] into)
        {
            // Several look at once, and a file has one place that it is read from.
            lock (source)
            {
                source.Read(start, count, into);
            }
        }

        public void Dispose()
        {
        }
    }
}
