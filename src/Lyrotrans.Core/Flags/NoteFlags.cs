using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Flags;

/// <summary>What would go wrong with a session's notes.</summary>
internal sealed class NoteFlags(Session session)
{
    /// <summary>A note longer than this was not meant so: its note-off is missing.</summary>
    private const int QuartersOfHangingNote = 32;

    private readonly MusicalClock _clock = session.Clock;

    public IEnumerable<Flag> Of(Track track)
    {
        if (track.Kind == TrackKind.Notes && track.Parts.All(p => p.Notes.Count == 0))
        {
            yield return new(FlagKinds.NoNotes, $"{track.Name} has no notes at all", "Its MIDI track would be empty", track.Id);
        }

        foreach (var part in track.Parts)
        {
            foreach (var flag in Of(track, part))
            {
                yield return flag;
            }
        }

        foreach (var flag in Overlaps(track).Concat(Programs(track)))
        {
            yield return flag;
        }
    }

    private IEnumerable<Flag> Of(Track track, NotePart part)
    {
        Flag At(FlagKind kind, string title, string detail, long tick = 0) =>
            new(kind, title, detail, track.Id, part.Id, _clock.SampleAt(part.StartQuarter + new Rational(tick, part.TicksPerQuarter)));
        if (part.Notes.Count == 0 && part.Controls.Count == 0)
        {
            yield return At(FlagKinds.EmptyPart, $"{part.Name} on {track.Name} is an empty part", "It has no notes");
        }

        var end = (part.LengthQuarters * part.TicksPerQuarter).RoundToEven();
        var outside = part.Notes.Where(n => n.Tick >= end).ToList();
        if (outside.Count > 0)
        {
            yield return At(FlagKinds.NotesOutside, $"{Phrases.Count(outside.Count, "note")} of {part.Name} on {track.Name} lie outside the part",
                "They do not sound here and do not go; lengthen the part where it was made if they are meant", outside[0].Tick);
        }

        var hanging = part.Notes.Where(n => n.Length >= (long)QuartersOfHangingNote * part.TicksPerQuarter).ToList();
        if (hanging.Count > 0)
        {
            yield return At(FlagKinds.HangingNote, $"{Phrases.Count(hanging.Count, "note")} of {part.Name} on {track.Name} never seem to end",
                $"Longer than {QuartersOfHangingNote} quarters; closed where the part ends", hanging[0].Tick);
        }

        if (Nested(part) is { } nested)
        {
            yield return At(FlagKinds.NestedNotes, $"{part.Name} on {track.Name} strikes key {nested.Key} while it sounds, and ends it first",
                "A MIDI file cannot say which of two ends; readers may end the longer one early", nested.Tick);
        }
    }

    /// <summary>The first note that lies wholly within another of the same channel and key.</summary>
    private static Note? Nested(NotePart part)
    {
        var open = new Dictionary<(int Channel, int Key), long>();
        foreach (var note in part.Notes)
        {
            var key = (note.Channel, note.Key);
            var end = note.Tick + note.Length;
            if (open.TryGetValue(key, out var before) && note.Tick < before && end < before)
            {
                return note;
            }

            open[key] = Math.Max(end, before);
        }

        return null;
    }

    private IEnumerable<Flag> Overlaps(Track track)
    {
        var parts = track.Parts.Where(p => !p.Muted && p.Notes.Count > 0).OrderBy(p => p.StartQuarter).ToList();
        for (var i = 1; i < parts.Count; i++)
        {
            if (parts[i].StartQuarter < parts[i - 1].EndQuarter)
            {
                yield return new(FlagKinds.OverlappingParts, $"{parts[i - 1].Name} and {parts[i].Name} on {track.Name} overlap",
                    "Joined, their notes would mix; a track for each part keeps them apart", track.Id, parts[i].Id, _clock.SampleAt(parts[i].StartQuarter));
            }
        }
    }

    private IEnumerable<Flag> Programs(Track track)
    {
        var programs = track.Parts.Where(p => !p.Muted).SelectMany(p => p.Controls).Where(c => c.Kind == NoteControlKind.Program)
            .Select(c => $"program {c.Value + 1} on channel {c.Channel}").Distinct().ToList();
        if (programs.Count > 0)
        {
            yield return new(FlagKinds.Program, $"{track.Name} asks for an instrument by number",
                $"{string.Join(", ", programs.Take(4))}{(programs.Count > 4 ? $" and {programs.Count - 4} more" : string.Empty)}; the receiver's instruments may not have it", track.Id);
        }
    }

}
