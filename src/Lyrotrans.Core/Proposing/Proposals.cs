using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Proposing;

/// <summary>What is proposed beside what was chosen, each with its reason. A proposal that was taken is none any more.</summary>
public static class Proposals
{
    /// <param name="session">What is prepared.</param>
    /// <param name="preparation">What was chosen of it.</param>
    /// <param name="wantsClick">Whether the receiver's sheet does not say that it wants none.</param>
    public static IReadOnlyList<Proposal> Of(Session session, Preparation preparation, bool wantsClick)
    {
        var (playing, prepared) = TakeTracks.Of(session, preparation.For(session));
        return [.. Guide(playing, prepared), .. Click(playing, prepared, wantsClick), .. Returns(playing, prepared)];
    }

    private static IEnumerable<Proposal> Guide(Session session, Preparation preparation)
    {
        if (preparation.Mix.Guide)
        {
            yield break;
        }

        static Preparation WithGuide(Preparation p) => p with { Mix = p.Mix with { Guide = true } };
        var lacking = GuideMix.Lacks(session, preparation);
        if (TrackRoles.Of(session).Guide is { } came)
        {
            yield return new Proposal("guide", "guide mix", $"{came.Name} came along; nobody else knows how it should sound together.", WithGuide);
        }
        else if (lacking is { Count: 0 })
        {
            yield return new Proposal("guide", "guide mix", "Everything in it can sound here; nobody else knows how it should sound together.", WithGuide);
        }
        else if (lacking is not null)
        {
            yield return new Proposal("guide", $"guide mix without {Phrases.First(lacking)}", $"What else is in it can sound here, and {Phrases.Count(lacking.Count, "thing")} cannot as {(lacking.Count == 1 ? "it is" : "they are")} meant.", WithGuide);
        }
    }

    private static IEnumerable<Proposal> Click(Session session, Preparation preparation, bool wants)
    {
        if (wants && !preparation.Click.Print && session.Tempo.Points.Count > 0 && !session.Tracks.Any(t => t.Kind == TrackKind.Click))
        {
            yield return new Proposal("click", "click", "Whoever plays to it hears the bars, and nothing says that the room wants none.", p => p with { Click = p.Click with { Print = true } });
        }
    }

    // A reverb that several tracks share is in none of their dry files.
    private static IEnumerable<Proposal> Returns(Session session, Preparation preparation)
    {
        var (roles, rows) = (TrackRoles.Of(session), preparation.Tracks.ToDictionary(c => c.TrackId));
        var dry = session.Tracks.Where(t => t.Kind == TrackKind.Audio && roles.Plays(t) && rows[t.Id].Treatment is Treatment.PrintDry or Treatment.KeepClips).ToList();
        foreach (var track in session.Tracks.Where(t => t.Kind == TrackKind.Return && t.State == TrackState.Active && rows[t.Id].Treatment == Treatment.HoldBack))
        {
            var feeders = dry.Where(t => t.Sends.Any(s => s.Target == track.Id)).ToList();
            if (feeders.Count > 0 && track.Inserts.All(i => i.Bypassed || EffectCatalogue.Find(i.Effect) is not null) && SignalPaths.Of(session).Circle is null)
            {
                yield return new Proposal(
                    $"return {track.Id}", $"{track.Name} as a wet print", $"{(feeders.Count <= 3 ? Phrases.List([.. feeders.Select(f => f.Name)], "and") : Phrases.Count(feeders.Count, "track"))} that {(feeders.Count == 1 ? "feeds" : "feed")} it {(feeders.Count == 1 ? "goes" : "go")} dry, so its sound would not be there.",
                    p => p with { Tracks = [.. p.Tracks.Select(c => c.TrackId == track.Id ? c with { Treatment = Treatment.PrintThrough } : c)] });
            }
        }
    }
}
