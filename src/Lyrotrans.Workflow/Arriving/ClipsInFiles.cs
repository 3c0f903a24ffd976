using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Rates;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Arriving;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>
/// Clips that were sent, in files of sound from the start that the other side wrote of whole tracks: a few long clips say which track a file is of, then each of that track's clips is held to the place where it
/// should lie, and looked for where it does not.
/// </summary>
internal sealed class ClipsInFiles
{
    // Of each track so many clips are looked for in a file to know it by.
    private const int Probes = 3;
    private const int Few = 2;
    private const int Window = 1 << 12;

    // Half a millisecond, about: what steady tones and fades put a place off by.
    private const int Beside = 24;

    // A tenth of a second: most that are moved are moved by less. So many clips are looked for so far, and must be themselves there: a steady tone is much like itself a period later.
    private const int Around = 4800;
    private const int MostAround = 16;
    private const double Itself = 0.995;

    // As much alike as a clip is to itself through gains and a channel's pan; through long fades less, and then only at the very sample where it should lie.
    private const double Alike = 0.9;
    private const double AlikeWhereDue = 0.7;
    private readonly SentPackage _sent;
    private readonly LoadedSession _found;
    private readonly CancellationToken _stop;
    private readonly List<(Track Track, List<Clip> Clips)> _tracks;
    private readonly Dictionary<string, Media> _media;

    // Samples by which files that are known already are late, the last one first.
    private readonly List<long> _lates = [];

    private ClipsInFiles(SentPackage sent, LoadedSession found, CancellationToken stop)
    {
        (_sent, _found, _stop) = (sent, found, stop);
        _media = sent.Sent.Session.Media.ToDictionary(m => m.Id);
        _tracks = [.. sent.Sent.Session.Tracks.Where(t => t.Kind == TrackKind.Audio && !sent.Sent.IsFile(t))
            .Select(t => (t, (t.Sounding?.Clips ?? []).Where(c => !c.Muted && sent.Media.FileOf(_media[c.Media]) is not null && RateLimits.CanConvert(_media[c.Media].Rate, found.Session.Rate)).ToList())).Where(t => t.Item2.Count > 0)];
    }

    /// <summary>The session of the other side with its clips in place of the files that they were found in, and what is known of their sound besides.</summary>
    /// <param name="sent">With its sound.</param>
    /// <param name="found">Files of sound from the start.</param>
    /// <param name="origins">What is known of them already.</param>
    /// <param name="report">Told how far it is, 0 to 1.</param>
    /// <param name="stop">Heeded all along.</param>
    public static (Session Session, IReadOnlyDictionary<string, FoundOrigin> Origins) Of(SentPackage sent, LoadedSession found, IReadOnlyDictionary<string, FoundOrigin> origins, Action<double> report, CancellationToken stop)
    {
        var (session, known, clips) = (found.Session, origins.ToDictionary(), new ClipsInFiles(sent, found, stop));
        var lost = session.Media.Where(m => !origins.ContainsKey(m.Id) && found.Media.FileOf(m) is not null).ToList();
        foreach (var (medium, i) in clips._tracks.Count == 0 ? [] : lost.Select((m, i) => (m, i)))
        {
            if (clips.In(medium) is { Count: > 0 } here)
            {
                session = With(session, medium, here, clips._media, sent.Sent.Session);
                foreach (var used in here.Select(h => h.Clip.Media).Distinct())
                {
                    known[IdOf(medium, used)] = new FoundOrigin(used, 0, ArrivalBasis.Sound);
                }
            }

            report((i + 1.0) / lost.Count);
        }

        return (session, known);
    }

    private static string IdOf(Media file, string medium) => $"{medium} in {file.Id}";

    private static Session With(Session session, Media file, List<(Clip Clip, long Place)> here, Dictionary<string, Media> media, Session sent)
    {
        Clip Placed(Clip whole, Clip clip, long place) => clip with
        {
            Id = $"{whole.Id} {clip.Id}",
            Media = IdOf(file, clip.Media),
            Start = whole.Start + file.Rate.Convert(place, session.Rate),
            Length = sent.Rate.Convert(clip.Length, session.Rate),
        };
        return session with
        {
            Media = [.. session.Media, .. here.Select(h => h.Clip.Media).Distinct().Select(m => media[m] with { Id = IdOf(file, m) })],
            Tracks = [.. session.Tracks.Select(t => t with { Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.SelectMany(c => c.Media == file.Id ? here.Select(h => Placed(c, h.Clip, h.Place)) : [c]).OrderBy(c => c.Start)] })] })],
        };
    }

    /// <summary>The clips that a file holds, and the sample of it that each begins on.</summary>
    private List<(Clip Clip, long Place)> In(Media file)
    {
        try
        {
            using var reference = Open(_found, file);
            if (!SignalFinder.CanFind(file.Rate, file.Rate) || reference.Rate.SecondsOf(reference.Length) > SignalFinder.MostSeconds)
            {
                return [];
            }

            // As late as the files before it are, most likely; only where it is not is it looked through.
            var known = _lates.Append(0).Distinct().Select(late => Best(reference, Chosen().Select(p => (p, Due(p.Clip, file) + late)))).FirstOrDefault(t => t is not null) ?? Looked(file, reference);
            if (known is not var (track, by))
            {
                return [];
            }

            _lates.Remove(by);
            _lates.Insert(0, by);
            return All(file, reference, _tracks[track].Clips, by);
        }
        catch (BadInputException)
        {
            // What cannot be read holds nothing that is known.
            return [];
        }
    }

    private IEnumerable<(int Track, Clip Clip)> Chosen() => _tracks.SelectMany((t, i) => t.Clips.OrderByDescending(c => c.Length).Take(Probes).Select(c => (i, c)));

    private (int Track, long Late)? Looked(Media file, ISampleSource reference)
    {
        var probes = Chosen().ToList();
        return Best(reference, Look(file, [.. probes.Select(p => p.Clip)]).Zip(probes).SelectMany(p => p.First is { } place ? new[] { place.Nearest, place.Second }.OfType<long>().Select(at => (p.Second, at)) : []));
    }

    /// <summary>The track that most of some clips are of that lie where they are thought to, and by how many samples most of these are late; null where hardly any lies there.</summary>
    private (int Track, long Late)? Best(ISampleSource reference, IEnumerable<((int Track, Clip Clip) Probe, long Place)> places)
    {
        var lying = places.Select(p => (p.Probe.Track, p.Probe.Clip, At: Exact(p.Probe.Clip, reference, p.Place))).Where(p => p.At is not null)
            .GroupBy(p => p.Track).Select(g => (Track: g.Key, Late: g.GroupBy(p => p.At!.Value.Place - _sent.Sent.Session.Rate.Convert(p.Clip.Start, reference.Rate)).MaxBy(l => (l.Count(), l.Sum(p => p.At!.Value.Likeness)))!))
            .OrderByDescending(t => t.Late.Sum(p => p.At!.Value.Likeness)).FirstOrDefault();
        return lying.Late is not null && lying.Late.Count() >= Math.Min(Few, _tracks[lying.Track].Clips.Count) ? (lying.Track, lying.Late.Key) : null;
    }

    private long Due(Clip clip, Media file) => _sent.Sent.Session.Rate.Convert(clip.Start, file.Rate);

    private List<(Clip Clip, long Place)> All(Media file, ISampleSource reference, List<Clip> clips, long late)
    {
        var (result, elsewhere) = (new List<(Clip, long)>(), new List<Clip>());
        foreach (var clip in clips)
        {
            _stop.ThrowIfCancellationRequested();
            if (Exact(clip, reference, Due(clip, file) + late) is var (place, _))
            {
                result.Add((clip, place));
            }
            else if (elsewhere.Count < MostAround && Moved(clip, reference, Due(clip, file) + late) is { } near)
            {
                result.Add((clip, near));
            }
            else
            {
                elsewhere.Add(clip);
            }
        }

        // A clip that is not where it should be is where it sounds the same, or where there is no doubt.
        result.AddRange(Look(file, elsewhere).Zip(elsewhere).Where(p => p.First is not null).Select(p => (p.Second, Place: Exact(p.Second, reference, p.First!.Value.Nearest)?.Place ?? (p.First.Value.IsSure ? p.First.Value.Nearest : null)))
            .Where(p => p.Place is not null).Select(p => (p.Second, p.Place!.Value)));
        return result;
    }

    private IReadOnlyList<SignalPlace?> Look(Media file, IReadOnlyList<Clip> clips) =>
        new SignalFinder(() => Open(_found, file)).Find([.. clips.Select(c => new Func<ISampleSource>(() => Cut(c, file.Rate)))], _ => { }, _stop);

    /// <summary>Where a clip lies, to the sample, near a place; null where it does not.</summary>
    private (long Place, double Likeness)? Exact(Clip clip, ISampleSource reference, long near)
    {
        var best = Lies(clip, reference, near, Beside);
        return best.Likeness >= Alike || (best.Place == near && best.Likeness >= AlikeWhereDue) ? best : null;
    }

    /// <summary>Where a clip lies that was moved a little.</summary>
    private long? Moved(Clip clip, ISampleSource reference, long near) => Lies(clip, reference, near, Around) is var (place, likeness) && likeness >= Itself ? place : null;

    // Known by the window of it that is most itself there: which no fade changes, and no neighbour covers.
    private (long Place, double Likeness) Lies(Clip clip, ISampleSource reference, long near, int beside)
    {
        using var cut = Cut(clip, reference.Rate);
        return Windows(cut).Select(w => Best(w.Samples, reference, near + w.At, beside) is var b ? (Place: b.Place - w.At, b.Likeness) : default).MaxBy(b => b.Likeness);
    }

    private static List<(long At, double[] Samples)> Windows(CutSource cut)
    {
        var count = (int)Math.Min(Window, cut.Length);
        return [.. Enumerable.Range(0, 8).Select(i => (cut.Length - count) * i / 7).Distinct().Select(at => (at, Mono(cut, at, count)))];
    }

    private static (long Place, double Likeness) Best(double[] own, ISampleSource reference, long near, int beside)
    {
        var around = Mono(reference, near - beside, own.Length + (2 * beside));
        var best = Enumerable.Range(0, (2 * beside) + 1).Select(by => (By: by - beside, Likeness: Likeness(own, around.AsSpan(by, own.Length)))).MaxBy(l => l.Likeness);
        return (near + best.By, best.Likeness);
    }

    private static double Likeness(double[] own, ReadOnlySpan<double> other)
    {
        var (cross, energy, theirs) = (0.0, 0.0, 0.0);
        for (var i = 0; i < own.Length; i++)
        {
            cross += own[i] * other[i];
            energy += own[i] * own[i];
            theirs += other[i] * other[i];
        }

        return energy > 0 && theirs > 0 ? Math.Abs(cross) / Math.Sqrt(energy * theirs) : 0;
    }

    private static double[] Mono(ISampleSource source, long from, int count)
    {
        var channels = Enumerable.Range(0, source.Channels).Select(_ => new double[count]).ToArray();
        source.Read(from, count, channels);
        return [.. Enumerable.Range(0, count).Select(i => channels.Sum(c => c[i]))];
    }

    /// <summary>The sound of a clip, at the rate of what it is looked for in.</summary>
    private CutSource Cut(Clip clip, SampleRate rate)
    {
        var medium = _media[clip.Media];
        var source = new MediaOpener(_sent.Media, rate).Open(medium)!;
        var length = _sent.Sent.Session.Rate.Convert(clip.Length, rate);
        return source.Rate == rate ? new CutSource(source, clip.SourceOffset, length) : new CutSource(new ConvertedSource(source, rate, Math.Max(0, clip.SourceOffset)), 0, length, source);
    }

    private static ISampleSource Open(LoadedSession session, Media medium) => SoundFile.Open(session.Media.FileOf(medium)!, medium.FileName).Source;
}
