using System.Numerics.Tensors;
using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Returning;

/// <summary>
/// Holds files that came back to what was sent, by their sound. Each is looked for where it most likely lies: from the same start, by its time stamp, or where files before it were found. What is not there is looked for
/// anywhere, then at the speeds that rate mistakes make. The track that is found is followed through the file from start to end.
/// </summary>
/// <remarks>docs/decisions/0050-what-came-back.md.</remarks>
public sealed class Returned
{
    // Likelier ones are followed; so many, since each takes a second.
    private const int Followed = 4;
    private const int FollowedAlike = 4;

    // Of what would have been found by its landmarks, and at other speeds, at which only what is nearly the same is looked for.
    private const int FollowedFew = 2;

    // A loop lies at many places; what lies beside it in a sum lies at one.
    private const int FollowedOfOthers = 1;

    // Less of its energy than this is nothing that it is of.
    private const double LeastExplained = 0.1;
    private const double AsGoodAsAll = 0.98;

    // Of one track, and of nothing else that is worth a word.
    private const double Alone = 0.03;

    // Clocks are not this far from each other.
    private const double MostDrift = 0.002;
    private const double Silence = 1e-4;

    // As much alike as the same samples are, and what is tried for that first.
    private const double Itself = 0.9999;
    private const double LikeItself = 0.9;

    // Another place of a track that is so nearly as much alike makes it unsure which of them it is.
    private const double AsWell = 0.9;
    private const double AsWellAsItself = 0.9995;

    // Samples: what filters put a place off by.
    private const double Near = 24;

    // Of the time.
    private const double MarksTake = 0.5;
    private const double LikelyTakes = 0.4;
    private const double AnywhereTakes = 0.2;
    private const double SpeedsTake = 0.2;

    // What is kept of so many takes about 50 MB, twice as much at other speeds.
    private const int MostAtOnce = 32;
    private readonly IReadOnlyList<SentSound> _sent;
    private readonly TimecodeScale _scale;
    private readonly SampleRate _rate;
    private readonly PartnerSearch _search;
    private readonly LandmarkSearch _marks;
    private readonly AnalysisMemory _memory = new();
    private readonly CancellationToken _stop;

    // Where sure ones lie, the last one first; so many, since each takes its time to look at.
    private const int MostStarts = 3;
    private readonly List<double> _starts = [];

    private Returned(SentPackage sent, SentMarks? kept, Action<WorkProgress> report, CancellationToken stop)
    {
        (_sent, _scale, _rate, _stop) = (SentSound.Of(sent, _memory), sent.Sent.Session.TimecodeScale, sent.Sent.Session.Rate, stop);
        _search = new PartnerSearch([.. _sent.Select(s => s.Sound)], _rate.PerSecond.ToDouble());
        var marks = kept?.AreOf(_sent) == true ? kept : SentMarks.Of(_sent, f => report(new WorkProgress(MarksTake * f, "reading what was sent")), stop);
        _marks = new LandmarkSearch(marks.Marks, _rate.PerSecond.ToDouble(), stop);
    }

    /// <summary>What each file is of, in their order.</summary>
    /// <param name="sent">What was sent, with its sound.</param>
    /// <param name="back">Files that came back.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Heeded all along.</param>
    /// <param name="marks">Landmarks of what was sent, where they were kept; none to make them, for which all of it is read.</param>
    /// <exception cref="BadInputException">What was sent cannot be read, or has no sound that could be looked through.</exception>
    public static IReadOnlyList<CameBack> Look(SentPackage sent, IReadOnlyList<SoundFileOf> back, Action<WorkProgress> report, CancellationToken stop, SentMarks? marks = null)
    {
        var from = marks is null ? MarksTake : 0;
        return SentMarks.CanBeOf(sent) ? new Returned(sent, marks, report, stop).Look(back, p => report(p with { Fraction = from + ((1 - from) * p.Fraction) }))
            : throw new BadInputException(ArrivingCodes.NothingSent, string.Empty, string.Empty, "There is no sound in what was sent that could be looked through.", "Compare with a package that has sound.");
    }

    private List<CameBack> Look(IReadOnlyList<SoundFileOf> back, Action<WorkProgress> report)
    {
        var results = new List<CameBack>();
        foreach (var some in back.Chunk(MostAtOnce))
        {
            var (from, part) = ((double)results.Count / back.Count, (double)some.Length / back.Count);
            results.AddRange(LookAtSome(some, (fraction, doing) => report(new WorkProgress(from + (part * fraction), doing))));
        }

        return results;
    }

    private CameBack[] LookAtSome(SoundFileOf[] back, Action<double, string> report)
    {
        var results = new CameBack?[back.Length];
        var lost = new List<(int File, SoughtSound Sound, RateMistake? Mistake)>();
        foreach (var (file, i) in back.Select((f, i) => (f, i)))
        {
            report(LikelyTakes * i / back.Length, $"looking at {file.Name}");
            if ((results[i] = Unfit(file)) is not null || Sought(file, null) is not { } sound)
            {
                continue;
            }

            // A mix of many parts has few landmarks of any one, and lies at a likely place all the same.
            var marked = ByMarks(file, sound);
            results[i] = IsSettled(sound, marked) ? marked : Better(marked, AtLikely(file, sound, null));

            // What has many landmarks, and lies nowhere by them, is looked for no further.
            if (!IsSettled(sound, results[i]) && !LandmarkSearch.WouldFind(sound.Marks(1)))
            {
                lost.Add((i, sound, null));
            }
        }

        Anywhere(lost, back, results, f => report(LikelyTakes + (AnywhereTakes * f), "looking through all that was sent"));
        var open = lost.Where(l => !IsSettled(l.Sound, results[l.File]) && l.Sound.TellsSpeeds && !LandmarkSearch.WouldFindCopy(l.Sound.Marks(1))).Select(l => l.File).ToList();
        foreach (var (i, n) in open.Select((i, n) => (i, n)))
        {
            report(LikelyTakes + AnywhereTakes + (SpeedsTake * n / open.Count), $"trying other speeds of {back[i].Name}");
            results[i] = Better(results[i], AtOtherSpeeds(back[i]));
        }

        lost = [.. open.Where(i => results[i] is not { IsSure: true }).SelectMany(i => RateMistake.All.Take(RateMistake.Common).Where(m => CanBe(back[i], m)).Select(m => (i, Sought(back[i], m), m)))
            .Where(l => l.Item2 is not null).Select(l => (l.i, l.Item2!, (RateMistake?)l.m))];
        Anywhere(lost, back, results, f => report(LikelyTakes + AnywhereTakes + SpeedsTake + (AnywhereTakes * f), "looking through all that was sent, at other speeds"));
        return [.. results.Select((r, i) => r ?? new CameBack(back[i].Name, CameBackKind.New))];
    }

    private void Anywhere(List<(int File, SoughtSound Sound, RateMistake? Mistake)> lost, SoundFileOf[] back, CameBack?[] results, Action<double> report)
    {
        foreach (var ((i, sound, mistake), places) in lost.Zip(_search.Anywhere([.. lost.Select(l => l.Sound)], report, _stop)))
        {
            // At another speed much is a little alike by chance: only what is sure counts.
            var best = Best(back[i], sound, mistake is null ? [.. Likeliest(places.Likely, p => p.Of), .. places.Alike.Take(FollowedAlike)] : [.. places.Likely.Take(FollowedFew), .. places.Alike.Take(FollowedFew)], mistake, places);
            results[i] = mistake is null || best is { IsSure: true } ? Better(results[i], best) : results[i];
        }
    }

    private SoughtSound? Sought(SoundFileOf file, RateMistake? mistake) => SoughtSound.Of(new SearchedSound(() => Opened(file, mistake), _memory), _stop);

    private bool CanBe(SoundFileOf file, RateMistake mistake) => SignalFinder.CanFind(RateOf(file, mistake), _rate);

    private static CameBack? Better(CameBack? one, CameBack? other) => other is null || (one is not null && (one.IsSure, one.Explained).CompareTo((other.IsSure, other.Explained)) >= 0) ? one : other;

    /// <summary>What is said of a file that is not looked for; null for one that is.</summary>
    private CameBack? Unfit(SoundFileOf file)
    {
        CameBack Unread(string why) => new(file.Name, CameBackKind.Unread) { Notes = [why] };
        try
        {
            using var sound = SoundFile.Open(file.File, file.Name);
            var rate = sound.Facts.SampleRate;
            return rate.SecondsOf(sound.Facts.Frames) > SignalFinder.MostSeconds ? Unread($"It is longer than {SignalFinder.MostSeconds / 3600} hours and is not looked through: cut it first.")
                : !SignalFinder.CanFind(rate, _rate) ? Unread($"Its rate of {rate.Words} is too far from {_rate.Words}.")
                : IsSilent(sound.Source) ? new CameBack(file.Name, CameBackKind.Silent) { IsSure = true } : null;
        }
        catch (BadInputException problem)
        {
            return Unread($"{problem.Problem} {problem.Remedy}".TrimEnd());
        }
    }

    private bool IsSilent(ISampleSource source)
    {
        const int Block = 1 << 16;
        var block = Enumerable.Range(0, source.Channels).Select(_ => new double[Block]).ToArray();
        for (long at = 0; at < source.Length; at += Block)
        {
            _stop.ThrowIfCancellationRequested();
            var count = (int)Math.Min(Block, source.Length - at);
            source.Read(at, count, block);
            if (Array.Exists(block, c => Math.Abs(TensorPrimitives.MaxMagnitude<double>(c.AsSpan(0, count))) >= Silence))
            {
                return false;
            }
        }

        return true;
    }

    private static ISampleSource Opened(SoundFileOf file, RateMistake? mistake)
    {
        var source = SoundFile.Open(file.File, file.Name).Source;
        return mistake is null ? source : new RestatedSource(source, mistake.Factor);
    }

    private static SoundFileFacts Facts(SoundFileOf file)
    {
        using var sound = SoundFile.Open(file.File, file.Name);
        return sound.Facts;
    }

    /// <summary>Whether it is looked for no further. What is brief, and nearly all of something, may be all of something else.</summary>
    private static bool IsSettled(SoughtSound sound, CameBack? known) => known is { IsSure: true } || (known is { Explained: > AsGoodAsAll } && !sound.IsBrief);

    /// <summary>What a file is by its landmarks, at any speed.</summary>
    private CameBack? ByMarks(SoundFileOf file, SoughtSound sound) => ByMarks(file, sound, [null]) is var best && IsSettled(sound, best) ? best
        : Better(best, ByMarks(file, sound, [.. RateMistake.All.Where(m => CanBe(file, m))]));

    private CameBack? ByMarks(SoundFileOf file, SoughtSound sound, IReadOnlyList<RateMistake?> mistakes)
    {
        var marks = AtOnce.Select(mistakes, m => sound.Marks(m?.Factor.ToDouble() ?? 1), _stop);
        var places = mistakes.Zip(marks).SelectMany(m => _marks.Find(m.Second, _stop).Select(p => (Mistake: m.First, Place: p))).OrderByDescending(p => p.Place.Votes).ToList();
        CameBack? best = null;
        foreach (var (mistake, place) in Likeliest(places, p => p.Place.Of))
        {
            // At another speed much is a little alike by chance: only what is sure counts.
            if ((mistake is null ? sound : Sought(file, mistake)) is { } so && Best(file, so, _search.NearIn(place.Of, so, place.Place, _stop), mistake) is { } found && (mistake is null || found.IsSure))
            {
                best = Better(best, found);
                if (found.IsSure)
                {
                    break;
                }
            }
        }

        return best;
    }

    private CameBack? AtLikely(SoundFileOf file, SoughtSound sound, RateMistake? mistake)
    {
        CameBack? best = null;
        var followed = mistake is not null || LandmarkSearch.WouldFind(sound.Marks(1)) ? FollowedFew : Followed;
        foreach (var place in Likely(file))
        {
            if ((best = Better(best, Best(file, sound, [.. _search.Near(sound, place, _stop).Take(followed)], mistake))) is { IsSure: true })
            {
                break;
            }
        }

        // Steady tones and loops are like themselves at many places, and are found by their phases at none; what is the same to the sample is seen.
        return best ?? Likely(file).Select(p => AsItLies(file, sound, p, mistake)).FirstOrDefault(f => f is not null);
    }

    private List<double> Likely(SoundFileOf file)
    {
        var facts = Facts(file);
        var (near, all) = (PartnerSearch.Reach / 2 * _rate.PerSecond.ToDouble(), new List<double>());
        foreach (var place in new[] { _starts.Take(1), facts.TimeReference is { } stamp ? [_scale.SampleOfTimeReference(stamp, facts.SampleRate)] : [], [0.0], _starts.Skip(1) }.SelectMany(p => p))
        {
            if (all.TrueForAll(p => Math.Abs(p - place) > near))
            {
                all.Add(place);
            }
        }

        return all;
    }

    private CameBack? AtOtherSpeeds(SoundFileOf file)
    {
        foreach (var mistake in RateMistake.All)
        {
            _stop.ThrowIfCancellationRequested();
            if (CanBe(file, mistake) && Sought(file, mistake) is { } sound && AtLikely(file, sound, mistake) is { IsSure: true } known)
            {
                return known;
            }
        }

        return null;
    }

    /// <summary>The first of them, and what is first of other tracks than these.</summary>
    private static IEnumerable<T> Likeliest<T>(IReadOnlyList<T> places, Func<T, int> of)
    {
        var first = places.Take(Followed).ToList();
        return [.. first, .. places.Skip(Followed).Where(p => first.TrueForAll(f => of(f) != of(p))).Take(FollowedOfOthers)];
    }

    private CameBack? Best(SoundFileOf file, SoughtSound sound, IReadOnlyList<PartnerPlace> places, RateMistake? mistake, PartnerPlaces? all = null)
    {
        CameBack? best = null;
        var found = new List<CameBack>();
        foreach (var place in places)
        {
            if (((place.Correlation >= LikeItself ? ItselfAt(file, sound, place, mistake, all) : null) ?? At(file, sound, place, mistake, all)) is not { } here)
            {
                continue;
            }

            found.Add(here);
            if ((best = Better(best, here)) is { IsSure: true } && !sound.IsBrief)
            {
                break;
            }
        }

        // Where a brief sound is cut says much of how like it is, which all of its samples know better than what is left of it for analysis.
        if (best is { IsSure: true } sure && sound.IsBrief && found.Exists(f => Math.Abs(f.Start - sure.Start) > Near && f.Explained >= sure.Explained))
        {
            return found.MaxBy(f => f.Explained)! with { IsSure = false };
        }

        if (best is { IsSure: true })
        {
            _starts.Remove(best.Start);
            _starts.Insert(0, best.Start);
            _starts.RemoveRange(Math.Min(MostStarts, _starts.Count), Math.Max(0, _starts.Count - MostStarts));
        }

        return best;
    }

    /// <summary>What a file is that is the same as a track to the sample, but for its level; null where it is not.</summary>
    private CameBack? ItselfAt(SoundFileOf file, SoughtSound sound, PartnerPlace place, RateMistake? mistake, PartnerPlaces? all)
    {
        var near = (long)Math.Round(place.Place);
        var beside = (int)Math.Ceiling(_rate.PerSecond.ToDouble() / SignalFinder.Hz);
        var (start, alike) = AtOnce.Select([.. Enumerable.Range(-beside, (2 * beside) + 1).Select(by => near + by)], at => (At: at, SoundParts.Of([_sent[place.Of].Sound.Open], sound, at, 0, _rate, _stop).Explained), _stop).MaxBy(t => t.Explained);
        if (alike < Itself || PartsAt(sound, start, 0) is not { Parts.Count: > 0 } parts)
        {
            return null;
        }

        var sure = parts.AsMuch.Count == 0 && !sound.IsSteadyTo(AsWellAsItself)
            && (sound.IsBrief ? all?.StandsAlone(place.Of, start, Near, 1) == true : !_search.IsElsewhere(place.Of, sound, start, 0, AsWellAsItself, _stop));
        return Told(file, sound, parts, start, 0, mistake) with { Likeness = Math.Sqrt(alike), IsSure = sure };
    }

    /// <summary>What a file is that may be of a track; null where it is not.</summary>
    private CameBack? At(SoundFileOf file, SoughtSound sound, PartnerPlace place, RateMistake? mistake, PartnerPlaces? all, bool again = true)
    {
        var back = RateOf(file, mistake).PerSecond.ToDouble() / _rate.PerSecond.ToDouble();

        // What was sent is clean, and what came back may have anything beside it: so the one is followed through the other.
        if (SoundFollower.Follow(_sent[place.Of].Sound, sound.Sound, -place.Place * back, _stop) is not { } followed || Math.Abs(followed.Drift) > MostDrift)
        {
            return null;
        }

        var start = followed.Start / back;
        var parts = PartsAt(sound, start, followed.Drift);
        if (parts.Explained < LeastExplained || parts.Parts.Count == 0)
        {
            return null;
        }

        if (parts.Parts[0].Of != place.Of && again)
        {
            // What is most of it says best where it lies.
            return At(file, sound, place with { Of = parts.Parts[0].Of, Place = start }, mistake, all, again: false);
        }

        var told = Told(file, sound, parts, start, followed.Drift, mistake) with
        {
            Likeness = followed.Likeness,
            IsSure = parts.Parts[0].Of == place.Of && parts.AsMuch.Count == 0 && !sound.IsSteady
                && (IsThere(sound, place.Of, followed, start, all) || parts.Parts.Skip(1).Any(p => p.Share > Alone && IsThereToo(sound, p.Of, followed, start, back))),
        };

        // Stretches where it is another sound make the gain of all of it smaller.
        return told.Kind == CameBackKind.Mix || parts.Parts[0].Of != place.Of ? told : told with { Parts = [told.Parts[0] with { GainDb = followed.GainDb }], IsInverted = followed.IsInverted };
    }

    /// <summary>What a file is that is the same at a place as something that was sent; null where it is not.</summary>
    private CameBack? AsItLies(SoundFileOf file, SoughtSound sound, double start, RateMistake? mistake) =>
        PartsAt(sound, start, 0) is { Explained: > AsGoodAsAll, Parts.Count: > 0 } parts ? Told(file, sound, parts, start, 0, mistake) with { Likeness = Math.Sqrt(parts.Explained) } : null;

    private SoundParts PartsAt(SoughtSound sound, double start, double drift) => SoundParts.Of([.. _sent.Select(s => s.Sound.Open)], sound, start, drift, _rate, _stop);

    private CameBack Told(SoundFileOf file, SoughtSound sound, SoundParts parts, double start, double drift, RateMistake? mistake)
    {
        var length = Facts(file).Frames / (RateOf(file, mistake).PerSecond / _rate.PerSecond).ToDouble();
        var isMix = parts.Parts.Skip(1).Any(p => p.Share > Alone);
        var of = isMix ? parts.Parts : [parts.Parts[0]];
        return new CameBack(file.Name, isMix ? CameBackKind.Mix : CameBackKind.Known)
        {
            Parts = [.. of.Select(p => new CameBackPart(_sent[p.Of].Name, Db(p.Gain)))],
            Same = isMix ? [] : [.. parts.Same.Select(s => _sent[s].Name)],
            Rate = _rate,
            Said = RateOf(file, null),
            Start = start,
            DriftPpm = drift * 1e6,
            DriftsFor = drift * length,
            IsInverted = !isMix && of[0].Gain < 0,
            Explained = parts.Explained,
            Mistake = mistake,
            Notes = [.. parts.AsMuch.Select(s => $"{_sent[s].Name} is as much like it."), .. ReturnedNotes.Of([.. of.Select(p => (_sent[p.Of], p.Gain))], sound, start, length, drift, _rate, _stop)],
        };
    }

    private static double Db(double gain) => 20 * Math.Log10(Math.Max(Math.Abs(gain), 1e-9));

    private static SampleRate RateOf(SoundFileOf file, RateMistake? mistake) => new(Facts(file).SampleRate.PerSecond * (mistake?.Factor ?? 1));

    /// <summary>Whether a sound lies where it was followed and nowhere else in the track, and not there by chance: what is too short to tell is so only after all that was sent was looked through.</summary>
    private bool IsThere(SoughtSound sound, int of, FollowedSound followed, double start, PartnerPlaces? all) =>
        followed.IsNoChance ? !_search.IsElsewhere(of, sound, start, followed.Drift, AsWell, _stop) : all?.StandsAlone(of, start, Near, followed.Agreeing) == true;

    /// <summary>Whether another part of a sum lies at the same place and nowhere else: so does all of the sum then, though its first part is a loop.</summary>
    private bool IsThereToo(SoughtSound sound, int of, FollowedSound first, double start, double back) =>
        SoundFollower.Follow(_sent[of].Sound, sound.Sound, -start * back, _stop) is { IsNoChance: true } other
        && Math.Abs(other.Start - first.Start) <= 1 && Math.Abs(other.Drift - first.Drift) * sound.Length(back * _rate.PerSecond.ToDouble()) <= 1
        && !_search.IsElsewhere(of, sound, start, first.Drift, AsWell, _stop);
}
