using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>Takes as a preparation has them: the chosen one sounds, and spare ones that go are tracks of their own beneath theirs, which sound in no mix.</summary>
public static class TakeTracks
{
    private const string Mark = "~spare-";

    /// <summary>Ids of the rows that are spare takes of others. A track that only has such an identifier, since an earlier package came back, is none.</summary>
    public static IReadOnlySet<string> SparesIn(Preparation preparation)
    {
        var beneath = preparation.Tracks.Where(c => c.Spares).Select(c => c.TrackId + Mark).ToList();
        return preparation.Tracks.Select(c => c.TrackId).Where(id => beneath.Exists(b => id.StartsWith(b, StringComparison.Ordinal))).ToHashSet();
    }

    /// <summary>The identifier of the track that a spare take becomes.</summary>
    /// <param name="trackId">Whose take it is.</param>
    /// <param name="lane">Which of its lanes, from 0.</param>
    public static string IdOf(string trackId, int lane) => FormattableString.Invariant($"{trackId}{Mark}{lane + 1}");

    /// <summary>Whether a lane is a take that could sound.</summary>
    /// <param name="session">Whose lane it is.</param>
    /// <param name="lane">Which.</param>
    public static bool IsTake(Session session, Lane lane) => lane.Clips.Count > 0 && !session.IsUnsent(lane);

    /// <summary>A session and its preparation with the takes as they go; rows of spare takes stand beneath that of their track, and go as it does.</summary>
    public static (Session Session, Preparation Preparation) Of(Session session, Preparation preparation)
    {
        var choices = preparation.Tracks.Where(c => c.Take is not null || c.Spares).ToDictionary(c => c.TrackId);
        if (choices.Count == 0)
        {
            return (session, preparation);
        }

        var tracks = session.Tracks.Select(t => choices.TryGetValue(t.Id, out var choice) ? Chosen(t, choice.Take) : t).ToList();
        var taken = new TakenNames().Taking(tracks.Select(t => t.Id));
        var spares = tracks.Where(t => choices.TryGetValue(t.Id, out var choice) && choice is { Spares: true, Treatment: not Treatment.HoldBack }).ToDictionary(t => t.Id, t => SparesOf(session, t, taken));
        return (
            session with { Tracks = tracks.SelectMany(t => spares.GetValueOrDefault(t.Id, []).Prepend(t)).ToValueArray() },
            preparation with { Tracks = preparation.Tracks.SelectMany(c => spares.GetValueOrDefault(c.TrackId, []).Select(s => RowOf(s, c)).Prepend(c)).ToValueArray() });
    }

    private static Track Chosen(Track track, string? take) =>
        take is not null && Enumerable.Range(0, track.Lanes.Count).FirstOrDefault(i => track.Lanes[i].Name == take, -1) is >= 0 and var lane ? track with { SoundingLane = lane } : track;

    // Numbered after the one that sounds, which is the first.
    private static List<Track> SparesOf(Session session, Track track, TakenNames taken) =>
    [
        .. track.Lanes.Select((lane, i) => (lane, i)).Where(l => l.i != track.SoundingLane && IsTake(session, l.lane))
            .Select((l, n) => track with { Id = taken.Free(IdOf(track.Id, l.i), '~'), Name = FormattableString.Invariant($"{track.Name} {n + 2} {l.lane.Name}").TrimEnd(), Lanes = [l.lane], SoundingLane = 0, State = TrackState.Muted }),
    ];

    private static TrackChoice RowOf(Track spare, TrackChoice choice) => choice with { TrackId = spare.Id, Name = null, Take = null, Spares = false, Marked = false, Beneath = [] };
}
