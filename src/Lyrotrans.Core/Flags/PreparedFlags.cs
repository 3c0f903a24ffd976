using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Flags;

/// <summary>What would go wrong by how a session is prepared for a receiver.</summary>
/// <param name="session">What would be sent.</param>
/// <param name="preparation">How.</param>
internal sealed class PreparedFlags(Session session, Preparation preparation)
{
    // An amplifier, a distortion: nothing of what is heard is on the clip alone.
    private static readonly string[] s_makers = ["drive", "cabinet", "distort", "fuzz", "overdrive", "amplifier", "saturat"];

    // Above the one and below the other is what most sound is made of.
    private const double LowestHighCut = 5000;
    private const double HighestLowCut = 500;
    private readonly Dictionary<string, TrackChoice> _choices = preparation.Tracks.ToDictionary(c => c.TrackId);
    private readonly TrackRoles _roles = TrackRoles.Of(session);
    private readonly IReadOnlySet<string> _inMix = MixTracks.Of(session, preparation);

    public IEnumerable<Flag> All() => session.Tracks.SelectMany(TrackFlags).Concat(Returns()).Concat(Master()).Concat(PrintedTwice()).Concat(TwoTakes()).Concat(session.Tracks.SelectMany(OffFrames));

    /// <summary>Whether a track's own sound or notes go.</summary>
    public bool Goes(string track) => TreatmentOf(track) != Treatment.HoldBack;

    /// <summary>Whether a track goes without its effects and with the file's polarity.</summary>
    public bool GoesDry(string track) => TreatmentOf(track) is Treatment.PrintDry or Treatment.KeepClips;

    /// <summary>Whether its print is made with the polarity inverted.</summary>
    public bool GoesInverted(string track) => _choices.GetValueOrDefault(track)?.Inverted ?? false;

    /// <summary>Whether a track goes with both of its channels.</summary>
    public bool GoesAsStereo(string track) => Goes(track) && _choices[track].Channels != DeliveredChannels.Mono;

    private Treatment TreatmentOf(string track) => _choices.GetValueOrDefault(track)?.Treatment ?? Treatment.HoldBack;

    private static long At(Track track) => track.Sounding?.Clips.FirstOrDefault(c => !c.Muted)?.Start ?? 0;

    private IEnumerable<Flag> TrackFlags(Track track)
    {
        var playing = track.Inserts.Where(i => !i.Bypassed).ToList();
        var made = playing.Where(i => s_makers.Any(m => i.Effect.Contains(m, StringComparison.OrdinalIgnoreCase))).ToList();
        if (track.Kind == TrackKind.Audio && GoesDry(track.Id) && made.Count > 0 && _roles.PrintOf(track.Id) is null)
        {
            yield return new(FlagKinds.SoundMaker, $"{track.Name} goes without its {made[0].Effect}", "What is heard here is made by it; print it through, or send both", track.Id, null, At(track));
        }

        var taking = playing.Where(ShutsAway).ToList();
        if (TreatmentOf(track.Id) is Treatment.PrintThrough or Treatment.PrintLevel or Treatment.PrintMixed && taking.Count > 0)
        {
            yield return new(FlagKinds.InsideLimiter, $"The print of {track.Name} has {Phrases.List([.. taking.Select(i => $"a {i.Effect}")], "and")} inside", "It can be printed dry, or with it switched off where it was made", track.Id, null, At(track));
        }

        var spare = track.Lanes.Where((l, i) => i != track.SoundingLane && TakeTracks.IsTake(session, l)).ToList();
        if (spare.Count > 0 && Goes(track.Id) && !_choices[track.Id].Spares)
        {
            yield return new(FlagKinds.SpareTakes, $"{track.Name} has {Phrases.Count(spare.Count, "spare take")} that {(spare.Count == 1 ? "does" : "do")} not go", string.Join(", ", spare.Select(l => l.Name)), track.Id, null, spare[0].Clips[0].Start);
        }
    }

    private static bool ShutsAway(Insert insert) => EffectCatalogue.Settings(insert) is { } settings && settings.Kind.Name switch
    {
        "limiter" => true,
        "equaliser" => settings["high cut Hz"] is > 0 and < LowestHighCut || settings["low cut Hz"] > HighestLowCut,
        _ => false,
    };

    private IEnumerable<Flag> Returns()
    {
        foreach (var way in session.Tracks.Where(t => t.Kind == TrackKind.Return && t.State == TrackState.Active))
        {
            var senders = session.Tracks.Where(t => t.State == TrackState.Active && t.Sends.Any(s => s.Target == way.Id)).ToList();
            var going = senders.Where(t => Goes(t.Id)).ToList();
            if (going.Count > 0 && !Goes(way.Id))
            {
                yield return new(FlagKinds.LostReturn, $"{way.Name} does not go, and {Phrases.Count(going.Count, "track")} {(going.Count == 1 ? "sends" : "send")} to it", string.Join(", ", going.Select(t => t.Name)), way.Id, null, At(going[0]));
            }
            else if (Goes(way.Id) && senders.Except(going).Where(t => _roles.PrintOf(way.Id) is not null || _inMix.Contains(t.Id)).ToList() is { Count: > 0 } held)
            {
                yield return new(FlagKinds.WetAndDry, $"{way.Name} goes with the effect on {Phrases.Count(held.Count, "track")} that {(held.Count == 1 ? "does" : "do")} not go", string.Join(", ", held.Select(t => t.Name)), way.Id, null, At(held[0]));
            }
        }
    }

    // Takes of one track are lanes, of which one sounds; some formats have no lanes, and takes come as tracks.
    private IEnumerable<Flag> TwoTakes()
    {
        var names = session.Tracks.Where(Sounds).Where(t => t.Kind == TrackKind.Audio).Select(t => (Track: t, Words: NameWords.Of(t.Name))).Select(t => (t.Track, Taken: NameWords.TakenOf(t.Words), Name: string.Join(' ', t.Words))).ToList();
        foreach (var part in names.GroupBy(n => n.Taken ?? n.Name).Where(g => g.Count() > 1))
        {
            foreach (var (take, i) in part.Select((t, i) => (t, i)).Where(t => t.t.Taken is not null))
            {
                if (part.Where((t, k) => t.Taken is null || k < i).Select(t => (t.Track, At: Together(t.Track, take.Track))).FirstOrDefault(t => t.At is not null) is { Track: { } other, At: { } at })
                {
                    yield return new(FlagKinds.TwoTakes, $"{take.Track.Name} sounds at once with {other.Name}", "Hold one of them back, or part their clips", take.Track.Id, null, at);
                }
            }
        }
    }

    /// <summary>The first sample at which clips of both tracks sound; null where none do.</summary>
    private static long? Together(Track a, Track b)
    {
        var (ours, theirs) = ((a.Sounding?.Clips ?? []).Where(c => !c.Muted).ToList(), (b.Sounding?.Clips ?? []).Where(c => !c.Muted).ToList());

        // Both ascend, and there may be thousands: whichever ends first can meet nothing more.
        for (int i = 0, k = 0; i < ours.Count && k < theirs.Count; _ = ours[i].End <= theirs[k].End ? i++ : k++)
        {
            if (ours[i].Start < theirs[k].End && theirs[k].Start < ours[i].End)
            {
                return Math.Max(ours[i].Start, theirs[k].Start);
            }
        }

        return null;
    }

    private bool Sounds(Track track) => track.Kind.IsSource() && track.State == TrackState.Active && TreatmentOf(track.Id) is not (Treatment.HoldBack or Treatment.Notes);

    // Of what is known to stand for a track only one sounds; what lies in the session as a track of its own says it by its name.
    private IEnumerable<Flag> PrintedTwice()
    {
        var names = session.Tracks.Where(Sounds).Select(t => (Track: t, Words: NameWords.Of(t.Name))).ToList();
        var called = names.GroupBy(n => string.Join(' ', n.Words)).ToDictionary(g => g.Key, g => g.First().Track);
        foreach (var (print, words) in names)
        {
            if (print.Kind == TrackKind.Audio && NameWords.PrintedOf(words) is { } name && called.TryGetValue(name, out var source))
            {
                yield return new(FlagKinds.PrintedTwice, $"{source.Name} goes, and so does {print.Name}", "Hold one of them back, or say at Intake that one is a print of the other", print.Id, null, At(print));
            }
        }
    }

    private IEnumerable<Flag> Master()
    {
        var master = session.Tracks.FirstOrDefault(t => t.Kind == TrackKind.Master);
        if (master is not null && preparation.Mix is { Stems: true, Master: StemMaster.Through } && master.Inserts.FirstOrDefault(i => !EffectCatalogue.IsLinear(i)) is { } bent)
        {
            yield return new(FlagKinds.MasterLimiter, $"Stems are taken after the {bent.Effect} on {master.Name}", "Taken before it they sum to the mix that is taken there", master.Id);
        }
    }

    private IEnumerable<Flag> OffFrames(Track track)
    {
        if (!preparation.Clips.FrameUnits || TreatmentOf(track.Id) != Treatment.KeepClips)
        {
            yield break;
        }

        var perFrame = session.Rate.PerSecond / session.FrameRate.PerSecond;
        foreach (var clip in (track.Sounding?.Clips ?? []).Where(c => !c.Muted))
        {
            var off = new[] { clip.Start, clip.End }.Select(at => (new Rational(at, 1) / perFrame) is var frames ? (frames - frames.RoundToEven()) * perFrame : Rational.Zero).MaxBy(r => Math.Abs(r.ToDouble()));
            if (off.Sign != 0)
            {
                yield return new(FlagKinds.SubFrame, $"{clip.Name} on {track.Name} does not lie on whole frames", $"It would move by {Digits.Grouped(Math.Abs(off.RoundToEven()))} samples", track.Id, clip.Id, clip.Start);
            }
        }
    }
}
