using System.Globalization;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>
/// Follows segments to the sound they mean: through sequences, transitions, operations, selectors, scopes and any chain of mobs.
/// Every place is turned into samples of the composition's rate at once, exactly, so that hops between edit rates lose nothing.
/// </summary>
internal sealed class ChainWalk<T>(IChainFormat<T> format, SampleRate rate)
    where T : class
{
    /// <summary>Nesting beyond this is no session; it is cut with a finding.</summary>
    public const int Deepest = 100;

    // A file of ordinary makes refers to each of its objects a few times; one made to explode refers to few without end.
    private const int LeastSegments = 200_000;
    private const int SegmentsAnEntry = 8;
    private const double Centre = 0.5;
    private readonly Dictionary<string, SampleRate> _mediaRates = [];
    private readonly int _mostSegments = LeastSegments + (SegmentsAnEntry * format.Entries);
    private int _visited;
    private string _track = string.Empty;
    private Rational _place;

    /// <summary>The mobs that any of some mobs refers to, itself left out. No more segments are looked at than the file can have.</summary>
    public static HashSet<string> ReferredTo(IChainFormat<T> format, IEnumerable<ChainMob<T>> mobs)
    {
        var found = new HashSet<string>();
        var left = LeastSegments + (SegmentsAnEntry * format.Entries);
        foreach (var mob in mobs)
        {
            var seen = new HashSet<T>(ReferenceEqualityComparer.Instance);
            var waiting = new Stack<(T Segment, int Depth)>(mob.Slots.Select(s => s.Segment).OfType<T>().Select(s => (s, 0)));
            while (waiting.TryPop(out var at) && left-- > 0)
            {
                if (at.Depth >= Deepest || !seen.Add(at.Segment))
                {
                    continue;
                }

                if (format.KindOf(at.Segment) == SegmentKind.Source && format.SourceOf(at.Segment).Mob is { } id && id != mob.Id)
                {
                    found.Add(id);
                }

                foreach (var below in Below(format, at.Segment))
                {
                    waiting.Push((below, at.Depth + 1));
                }
            }
        }

        return found;
    }

    private static IEnumerable<T> Below(IChainFormat<T> format, T segment) => format.KindOf(segment) switch
    {
        SegmentKind.Sequence or SegmentKind.Scope => format.PartsOf(segment),
        SegmentKind.Selector => format.AlternatesOf(segment).Append(format.SelectedOf(segment)!).Where(s => s is not null),
        SegmentKind.Gain or SegmentKind.Pan or SegmentKind.Operation or SegmentKind.Group or SegmentKind.Conversion => format.InputOf(segment) is { } input ? [input] : [],
        _ => [],
    };

    public EditTrack Track(ChainSlot<T> slot, int order)
    {
        var unit = Unit(slot);
        var segment = slot.Segment!;
        (_track, _place) = (string.IsNullOrWhiteSpace(slot.Name) ? string.Create(CultureInfo.InvariantCulture, $"track {order}") : slot.Name, 0);
        var track = new EditTrack { Name = slot.Name ?? string.Empty, Number = slot.Number ?? order };

        // Around a whole sequence gain and pan are the track's own; around one clip gain is the clip's.
        var groups = new List<T>();
        while (groups.Count < Deepest && format.KindOf(segment) is SegmentKind.Gain or SegmentKind.Pan && format.InputOf(segment) is { } input)
        {
            groups.Add(segment);
            segment = input;
        }

        var whole = format.KindOf(segment) == SegmentKind.Sequence;
        var span = Evaluate(segment, unit, [], 0);
        var clips = span.Clips;
        foreach (var group in groups)
        {
            var length = Length(group, unit) is { Sign: > 0 } said ? said : span.Length;
            if (format.KindOf(group) == SegmentKind.Pan)
            {
                var (constant, points) = format.ParameterOf(group, 1);
                track = track with { Pan = constant ?? track.Pan, PanAutomation = points.IsEmpty ? track.PanAutomation : points };
            }
            else if (whole)
            {
                var (constant, points) = format.ParameterOf(group, length);
                track = track with { Fader = track.Fader * (constant ?? 1), FaderAutomation = points.IsEmpty ? track.FaderAutomation : points };
            }
            else
            {
                clips = WithGain(clips, group, length);
            }
        }

        return WithClipPans(track with { Clips = [.. clips.OrderBy(c => c.Start)], Length = span.Length });
    }

    /// <summary>A session has pan on tracks: what single clips say goes there, as it is where all say the same and else as automation that jumps at their starts.</summary>
    private static EditTrack WithClipPans(EditTrack track)
    {
        var panned = track.Clips.Where(c => !c.Pan.IsEmpty).ToList();
        if (panned.Count == 0 || track.Pan is not null || !track.PanAutomation.IsEmpty)
        {
            return track;
        }

        var constant = panned.All(c => c.Pan.Points.Count == 1);
        if (constant && panned.Count == track.Clips.Count && panned.Select(c => c.Pan.Points[0].Value).Distinct().Count() == 1)
        {
            return track with { Pan = panned[0].Pan.Points[0].Value };
        }

        var points = track.Clips.SelectMany(c => c.Pan.IsEmpty ? [new EditPoint(c.Start / track.Length, Centre)] : c.Pan.Points.Select(p => new EditPoint((c.Start + p.Place) / track.Length, p.Value)));
        return track with { PanAutomation = new EditCurve([.. points], constant ? EditBetween.Hold : EditBetween.Straight) };
    }

    private Rational Unit(ChainSlot<T> slot) => slot.EditRate is { Sign: > 0 } editRate ? rate.PerSecond / editRate : 1;

    /// <summary>A segment's own unit where it has one, else its slot's.</summary>
    private Rational Unit(T segment, Rational unit) => format.EditRateOf(segment) is { Sign: > 0 } own ? rate.PerSecond / own : unit;

    private Rational Length(T segment, Rational unit) => format.LengthOf(segment) * Unit(segment, unit);

    private ChainSpan Evaluate(T segment, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var length = Length(segment, unit);
        if (depth > Deepest || ++_visited > _mostSegments)
        {
            format.Findings.Add(EditCodes.TooDeep, string.Empty, $"Segments are nested deeper than {Deepest}, come back to themselves, or are far more than the file has; what lies below was left out.");
            return ChainSpan.Silence(length);
        }

        unit = Unit(segment, unit);
        return format.KindOf(segment) switch
        {
            SegmentKind.Sequence => Sequence(segment, unit, scopes, depth),
            SegmentKind.Source => SourceClip(segment, unit, depth),
            SegmentKind.Silence => ChainSpan.Silence(length),
            SegmentKind.Gain or SegmentKind.Pan or SegmentKind.Operation => Operation(segment, unit, scopes, depth),
            SegmentKind.Selector => Selector(segment, unit, scopes, depth),
            SegmentKind.Group => format.InputOf(segment) is { } choice ? Evaluate(choice, unit, scopes, depth + 1) with { Length = length } : ChainSpan.Silence(length),
            SegmentKind.Scope => Scope(segment, unit, scopes, depth),
            SegmentKind.Conversion => Conversion(segment, unit, scopes, depth),
            SegmentKind.Reference => Reference(segment, unit, scopes, depth),
            _ => Unused(segment, length),
        };
    }

    private ChainSpan Conversion(T segment, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var (inputRate, inputOffset, resultOffset) = format.ConversionOf(segment);
        if (inputRate.Sign <= 0 || format.InputOf(segment) is not { } input)
        {
            return Unused(segment, Length(segment, unit));
        }

        var inner = rate.PerSecond / inputRate;
        return Cut(Evaluate(input, inner, scopes, depth + 1), (inputOffset * inner) - (resultOffset * unit), Length(segment, unit));
    }

    private ChainSpan Unused(T segment, Rational length)
    {
        format.Findings.Add(ChainCodes.NoSound, string.Empty, $"A {format.WordFor(segment)} of {(length / rate.PerSecond).ToDouble():0.###} s on a sound track holds no sound that can be used; it is silent.");
        return ChainSpan.Silence(length);
    }

    /// <summary>A transition overlaps the end of what comes before it and the start of what comes after.</summary>
    private ChainSpan Sequence(T sequence, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var clips = new List<EditClip>();
        Rational at = 0;
        EditFade? pending = null;
        foreach (var component in format.PartsOf(sequence))
        {
            if (format.KindOf(component) == SegmentKind.Transition)
            {
                var (falls, rises) = format.TransitionOf(component, Length(component, unit));
                for (var i = clips.Count - 1; i >= 0 && clips[i].End >= at; i--)
                {
                    clips[i] = clips[i].End == at && falls.Length.Sign > 0 ? clips[i] with { FadeOut = falls } : clips[i];
                }

                at -= rises.Length;
                pending = rises.Length.Sign > 0 ? rises : null;
                continue;
            }

            _place += at;
            var span = Evaluate(component, unit, scopes, depth + 1);
            _place -= at;
            foreach (var clip in span.Clips)
            {
                clips.Add(clip with { Start = clip.Start + at, FadeIn = clip.Start.Sign == 0 && pending is not null ? pending : clip.FadeIn });
            }

            at += span.Length;
            pending = null;
        }

        return new ChainSpan(clips, at);
    }

    private ChainSpan SourceClip(T clip, Rational unit, int depth)
    {
        var length = Length(clip, unit);
        var source = format.SourceOf(clip);
        if (source.Mob is not { } id)
        {
            var place = $"sample {Digits.Grouped(_place.RoundToEven())} of {_track}";
            format.Findings.Add(ChainCodes.NoSource, place, $"A clip of {Digits.Grouped(length.RoundToEven())} samples at {place} refers to no source; it is silent.");
            return ChainSpan.Silence(length);
        }

        // Its start is in units of the slot that holds it, not of the one it refers to.
        var span = Source(id, source.Slot, source.Start * unit, length, source.Channel, null, depth);
        var (into, away) = format.FadesOf(clip, unit);
        var note = format.NoteOf(clip);
        return into is null && away is null && note.Length == 0 ? span : new ChainSpan(
            [.. span.Clips.Select(c => c with { Note = note.Length > 0 ? note : c.Note, FadeIn = c.Start.Sign == 0 ? into ?? c.FadeIn : c.FadeIn, FadeOut = c.End == length ? away ?? c.FadeOut : c.FadeOut })], length);
    }

    /// <summary>The sound of a mob's slot from a place on, for a length.</summary>
    private ChainSpan Source(string id, long slotId, Rational start, Rational length, int channel, string? clipName, int depth)
    {
        if (depth > Deepest)
        {
            format.Findings.Add(ChainCodes.TooLong, string.Empty, $"A chain of mobs is longer than {Deepest}, or comes back to itself; it is silent.");
            return ChainSpan.Silence(length);
        }

        if (format.MobOf(id) is not { } mob)
        {
            format.Findings.Add(ChainCodes.MobMissing, clipName ?? string.Empty, $"{clipName ?? "A clip"} refers to the mob {id[^Math.Min(16, id.Length)..]}, which is not in the file; its media must be found by name.");
            return Clip(format.UnknownMedia(id, clipName), clipName, channel, start, length);
        }

        var slot = mob.Slot(slotId);
        var from = start + (slot is null ? 0 : slot.Origin * Unit(slot));
        var name = mob.Name is { Length: > 0 } own ? own : clipName;
        if (mob.IsFile)
        {
            var known = format.MediaOf(mob, clipName);
            return Clip(known, clipName, mob.SoundSlots.Count > 1 && slot is not null ? mob.ChannelOf(slot) : known.Channels == 1 ? 1 : channel, from, length);
        }

        if (slot?.Segment is not { } segment)
        {
            format.Findings.Add(ChainCodes.SlotMissing, name ?? string.Empty, $"{name ?? "A clip"} refers to slot {slotId}, which its mob does not have; it is silent.");
            return ChainSpan.Silence(length);
        }

        if (mob.IsMaster && channel == 0 && mob.SoundSlots.Count > 1)
        {
            channel = mob.ChannelOf(slot);
        }

        // A clip may run past what a master mob says, never past the file; so the chain is followed and not cut.
        if (!mob.IsComposition && format.KindOf(segment) == SegmentKind.Source)
        {
            var next = format.SourceOf(segment);
            return next.Mob is { } to
                ? Source(to, next.Slot, from + (next.Start * Unit(segment, Unit(slot))), length, channel > 0 ? channel : next.Channel, name, depth + 1)
                : Clip(format.UnknownMedia(id, name), name, channel, from, length);
        }

        _place -= from;
        var whole = Evaluate(segment, Unit(slot), [], depth + 1);
        _place += from;
        return Cut(whole, from, length);
    }

    private ChainSpan Clip(DocumentMedia known, string? name, int channel, Rational start, Rational length)
    {
        _mediaRates[known.Id] = known.Rate;
        return new(
            [new EditClip { Media = known.Id, Name = string.IsNullOrWhiteSpace(name) ? null : name, Channel = channel, Length = length, SourceOffset = start * known.Rate.PerSecond / rate.PerSecond }], length);
    }

    /// <summary>A piece of a span, its clips cut at the edges; a fade that the cut reaches is gone.</summary>
    private ChainSpan Cut(ChainSpan span, Rational from, Rational length)
    {
        var clips = new List<EditClip>();
        foreach (var clip in span.Clips)
        {
            var start = clip.Start > from ? clip.Start : from;
            var end = clip.End < from + length ? clip.End : from + length;
            if (end <= start)
            {
                continue;
            }

            var ratio = _mediaRates[clip.Media].PerSecond / rate.PerSecond;
            clips.Add(clip with
            {
                Start = start - from,
                Length = end - start,
                SourceOffset = clip.SourceOffset + ((start - clip.Start) * ratio),
                FadeIn = start == clip.Start ? clip.FadeIn : null,
                FadeOut = end == clip.End ? clip.FadeOut : null,
                GainCurve = Moved(clip.GainCurve, clip.Start - start),
                Pan = Moved(clip.Pan, clip.Start - start),
            });
        }

        return new ChainSpan(clips, length);
    }

    private static EditCurve Moved(EditCurve curve, Rational by) => by.Sign == 0 || curve.IsEmpty ? curve : curve with { Points = [.. curve.Points.Select(p => p with { Place = p.Place + by })] };

    private ChainSpan Operation(T group, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var length = Length(group, unit);
        if (format.InputOf(group) is not { } input)
        {
            return Unused(group, length);
        }

        var span = Evaluate(input, unit, scopes, depth + 1);
        var kind = format.KindOf(group);
        if (kind == SegmentKind.Gain)
        {
            return span with { Clips = WithGain(span.Clips, group, length.Sign > 0 ? length : span.Length) };
        }

        if (kind == SegmentKind.Pan)
        {
            return span with { Clips = WithPan(span.Clips, group, length.Sign > 0 ? length : span.Length) };
        }

        format.Findings.Add(EditCodes.Operation, string.Empty, $"The operation {format.WordFor(group)} cannot be carried; its sound goes without it.");
        return length.Sign > 0 ? span with { Length = length } : span;
    }

    private List<EditClip> WithGain(IReadOnlyList<EditClip> clips, T group, Rational length)
    {
        var (constant, points) = format.ParameterOf(group, length);
        return clips.Select(c => c with
        {
            Gain = c.Gain * (constant ?? 1),
            GainCurve = points.IsEmpty ? c.GainCurve : Moved(points, -c.Start),
        }).ToList();
    }

    private List<EditClip> WithPan(IReadOnlyList<EditClip> clips, T group, Rational length)
    {
        var (constant, points) = format.ParameterOf(group, length);
        var pan = constant is { } value ? new EditCurve([new EditPoint(0, value)], EditBetween.Hold) : points;
        return clips.Select(c => c with { Pan = constant is null ? Moved(pan, -c.Start) : pan }).ToList();
    }

    /// <summary>The selected sound with the others as its takes; silence selected beside sound is that sound muted.</summary>
    private ChainSpan Selector(T selector, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var length = Length(selector, unit);
        var selected = format.SelectedOf(selector) is { } chosen ? Evaluate(chosen, unit, scopes, depth + 1) : ChainSpan.Silence(length);
        var others = format.AlternatesOf(selector).Select(a => Evaluate(a, unit, scopes, depth + 1)).ToList();
        if (selected.Clips.Count == 0)
        {
            return new ChainSpan(others.Take(1).SelectMany(o => o.Clips).Select(c => c with { Muted = true }).ToList(), length);
        }

        var takes = others.SelectMany(o => o.Clips).ToList();
        return new ChainSpan(selected.Clips.Select((c, i) => i == 0 ? c with { Alternates = takes } : c).ToList(), length);
    }

    private ChainSpan Scope(T scope, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var slots = format.PartsOf(scope).ToList();
        return slots.Count == 0 ? Unused(scope, Length(scope, unit)) : Evaluate(slots[^1], unit, [.. scopes, slots[..^1]], depth + 1);
    }

    // So many scopes out, and so many slots back from the one that refers.
    private ChainSpan Reference(T reference, Rational unit, IReadOnlyList<IReadOnlyList<T>> scopes, int depth)
    {
        var (outwards, backwards) = format.ReferenceOf(reference);
        var scope = scopes.Count - 1 - (int)Math.Clamp(outwards, 0, int.MaxValue / 2);
        var back = (int)Math.Clamp(backwards, 0, int.MaxValue);
        if (scope < 0 || back < 1 || scopes[scope].Count < back)
        {
            return Unused(reference, Length(reference, unit));
        }

        var at = scopes[scope].Count - back;
        return Evaluate(scopes[scope][at], unit, [.. scopes.Take(scope), scopes[scope].Take(at).ToList()], depth + 1);
    }
}
