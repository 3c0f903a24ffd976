using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>Lays what the engineer said of tracks and clips over the session that the sources make.</summary>
public static class NoteJoin
{
    /// <summary>The session with its notes. One whose track or clip is there no more, or cannot be told, is a finding and on nothing else.</summary>
    /// <param name="session">As its sources make it.</param>
    /// <param name="notes">In the order in which they were said.</param>
    /// <param name="findings">Gets a line for each that is on nothing.</param>
    public static Session Apply(Session session, IReadOnlyList<ObjectNote> notes, FindingList findings)
    {
        var (tracks, clips) = (new Dictionary<string, string>(), new Dictionary<(string Track, string Clip), string>());
        foreach (var note in notes)
        {
            if (TrackOf(session, note) is not { } track || (note.Clip is not null && ClipOf(track, note) is null))
            {
                var of = note.ClipName ?? note.TrackName;
                findings.Add(IntakeCodes.NoteLost, of, $"The note to {of} is on nothing, because that is not here any more: \"{note.Text}\".");
            }
            else if (note.Clip is null)
            {
                tracks[track.Id] = note.Text;
            }
            else
            {
                clips[(track.Id, ClipOf(track, note)!.Id)] = note.Text;
            }
        }

        return tracks.Count + clips.Count == 0 ? session : session with
        {
            Tracks = [.. session.Tracks.Select(t => t with
            {
                Note = tracks.GetValueOrDefault(t.Id, t.Note),
                Lanes = [.. t.Lanes.Select(l => l with { Clips = [.. l.Clips.Select(c => clips.TryGetValue((t.Id, c.Id), out var text) ? c with { Note = text } : c)] })],
            })],
        };
    }

    private static Track? TrackOf(Session session, ObjectNote note) => session.Tracks.FirstOrDefault(t => t.Id == note.Track && t.Name == note.TrackName) ?? Only(session.Tracks.Where(t => t.Name == note.TrackName));

    private static Clip? ClipOf(Track track, ObjectNote note)
    {
        var clips = track.Lanes.SelectMany(l => l.Clips).ToList();
        return clips.Find(c => c.Id == note.Clip && c.Name == note.ClipName) ?? Only(clips.Where(c => c.Name == note.ClipName));
    }

    // Of several that are called the same nobody knows which was meant.
    private static T? Only<T>(IEnumerable<T> all)
        where T : class => all.Take(2).ToList() is [var one] ? one : null;
}
