using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Preparing;

/// <summary>The further forms of tracks as a delivery has them: muted tracks of their own beneath theirs, which sound in no mix.</summary>
public static class BeneathTracks
{
    private const string Mark = "~beneath-";

    /// <summary>The identifier of the track that a further form becomes.</summary>
    /// <param name="trackId">Whose form it is.</param>
    /// <param name="place">Which of its further forms, from 0.</param>
    public static string IdOf(string trackId, int place) => FormattableString.Invariant($"{trackId}{Mark}{place + 1}");

    /// <summary>A session and its preparation with a row and a track for each further form, beneath those of its track. What has no file of its own (held back, in its stem only) has none.</summary>
    public static (Session Session, Preparation Preparation) Of(Session session, Preparation preparation)
    {
        var choices = preparation.Tracks.Where(c => c.Beneath.Count > 0 && c.Treatment.IsNamed()).ToDictionary(c => c.TrackId);
        if (choices.Count == 0)
        {
            return (session, preparation);
        }

        var taken = new TakenNames().Taking(session.Tracks.Select(t => t.Id));
        var beneath = session.Tracks.Where(t => choices.ContainsKey(t.Id)).ToDictionary(t => t.Id, t => TracksOf(t, choices[t.Id], taken));
        return (
            session with { Tracks = session.Tracks.SelectMany(t => beneath.GetValueOrDefault(t.Id, []).Prepend(t)).ToValueArray() },
            preparation with { Tracks = preparation.Tracks.SelectMany(c => beneath.GetValueOrDefault(c.TrackId, []).Select((t, i) => RowOf(t, c, i)).Prepend(c)).ToValueArray() });
    }

    /// <summary>A row with names typed in, for its own track and those of its further forms; what has none keeps what it has.</summary>
    /// <param name="choice">The row.</param>
    /// <param name="names">By track.</param>
    public static TrackChoice Named(TrackChoice choice, IReadOnlyDictionary<string, string> names) => choice with
    {
        Name = names.GetValueOrDefault(choice.TrackId) ?? choice.Name,
        Beneath = [.. choice.Beneath.Select((b, i) => names.TryGetValue(IdOf(choice.TrackId, i), out var name) ? b with { Name = name } : b)],
    };

    private static List<Track> TracksOf(Track track, TrackChoice choice, TakenNames taken) =>
        [.. choice.Beneath.Select((b, i) => track with { Id = taken.Free(IdOf(track.Id, i), '~'), Name = $"{track.Name} {b.Treatment.NameWord()}", State = TrackState.Muted })];

    private static TrackChoice RowOf(Track track, TrackChoice choice, int place) =>
        choice with { TrackId = track.Id, Of = choice.TrackId, Treatment = choice.Beneath[place].Treatment, Name = choice.Beneath[place].Name, Beneath = [], Take = null, Spares = false, Marked = false };
}
