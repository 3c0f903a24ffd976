using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Handover;

/// <summary>The first and the last clip or note of each track that goes, by which a person checks at the other end.</summary>
public static class CheckPoints
{
    /// <summary>In the order of delivery; none for tracks without clips or notes within the files.</summary>
    public static ValueArray<CheckPoint> Of(DeliveryPlan plan)
    {
        var names = DeliveredNames.Texts(plan.Session, plan.Preparation);
        var kept = plan.Clips?.Tracks.ToDictionary(t => t.TrackId, t => t.Became) ?? [];
        var (clips, places) = (plan.Clips?.Session.Tracks.ToDictionary(t => t.Id) ?? [], new Places(plan));
        var result = new List<CheckPoint>();
        foreach (var choice in plan.Preparation.Tracks)
        {
            if (kept.TryGetValue(choice.TrackId, out var became))
            {
                result.AddRange(became.SelectMany(id => Ends(clips[id].Lanes[0].Clips, c => c.Start, c => !c.Muted, (clip, first) => places.Kept(clips[id].Name, clip, first))));
            }
            else if (plan.Timeline.Tracks.FirstOrDefault(t => t.Id == choice.TrackId) is { } track && names.TryGetValue(track.Id, out var name))
            {
                result.AddRange(choice.Treatment.HasNotes() ? OfNotes(track, name, places) : Ends(
                    track.Sounding?.Clips ?? [], c => c.Start, c => !c.Muted && c.Start >= plan.TimelineRange.Start && c.Start < plan.TimelineRange.End, (clip, first) => places.Printed(name, clip, first)));
            }
        }

        return [.. result];
    }

    private static IEnumerable<CheckPoint> OfNotes(Track track, string name, Places places) => Ends(
        [.. track.Parts.Where(p => !p.Muted).SelectMany(p => p.Notes.Select(n => (Note: n, At: p.StartQuarter + new Rational(n.Tick, p.TicksPerQuarter), End: p.StartQuarter + p.LengthQuarters))).Where(n => n.At < n.End)],
        n => n.At, n => places.IsInFiles(n.At), (n, first) => places.Note(name, n.Note, n.At, first));

    private static IEnumerable<CheckPoint> Ends<T, TPlace>(IEnumerable<T> all, Func<T, TPlace> place, Func<T, bool> counts, Func<T, bool, CheckPoint> make)
    {
        var ordered = all.Where(counts).OrderBy(place).ToList();
        return ordered.Count == 0 ? [] : ordered.Count == 1 ? [make(ordered[0], true)] : [make(ordered[0], true), make(ordered[^1], false)];
    }

    private sealed class Places(DeliveryPlan plan)
    {
        private readonly MusicalClock _clock = plan.Timeline.Clock;

        public bool IsInFiles(Rational quarter) => _clock.SampleAt(quarter) is var sample && sample >= plan.TimelineRange.Start && sample < plan.TimelineRange.End;

        public CheckPoint Printed(string track, Clip clip, bool isFirst) => At(track, clip.Name, isFirst, clip.Start, plan.Timeline.Rate, plan.Timeline.TimecodeScale.At(clip.Start), null);

        public CheckPoint Note(string track, Note note, Rational quarter, bool isFirst)
        {
            var sample = _clock.SampleAt(quarter);
            return At(track, $"note {Digits.Grouped(note.Key)}", isFirst, sample, plan.Timeline.Rate, plan.Timeline.TimecodeScale.At(sample), null, quarter);
        }

        public CheckPoint Kept(string track, Clip clip, bool isFirst)
        {
            var session = plan.Clips!.Session;
            return At(track, clip.Name, isFirst, clip.Start + plan.Session.Rate.Convert(ClipStart.Of(plan), session.Rate), session.Rate, session.TimecodeScale.At(clip.Start), clip.GainDb);
        }

        private CheckPoint At(string track, string what, bool isFirst, long sample, SampleRate rate, TimecodePosition timecode, double? gainDb, Rational? quarter = null) => new(
            track, what, isFirst, sample - plan.Session.Rate.Convert(plan.Range.Start, rate), rate.Words, $"{timecode}",
            $"{plan.Timeline.Meters.NearestTick(quarter ?? _clock.QuarterAt(rate.Convert(sample, plan.Timeline.Rate)))}", gainDb);
    }
}
