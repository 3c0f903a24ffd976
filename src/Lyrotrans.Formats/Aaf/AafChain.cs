using System.Buffers.Binary;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Aaf;

/// <summary>
/// Follows segments to the sound they mean: through sequences, transitions, operations, selectors, scopes and any chain of mobs.
/// Every place is turned into samples of the composition's rate at once, exactly, so that hops between edit rates lose nothing.
/// </summary>
internal sealed class AafChain(AafFile file, AafMedia media, SampleRate rate)
{
    /// <summary>Nesting beyond this is no session; it is cut with a finding.</summary>
    public const int Deepest = 100;

    // A file of ordinary makes refers to each of its objects a few times; one made to explode refers to few without end.
    private const int LeastSegments = 200_000;
    private const int SegmentsAnEntry = 8;
    private const double Centre = 0.5;
    private static readonly Guid s_amplitude = AafModel.Definition("ParameterDef_Amplitude");
    private static readonly Guid s_pan = AafModel.Definition("ParameterDef_Pan");
    private readonly AafParameter _parameters = new(file);
    private readonly Dictionary<string, Dictionary<long, AafObject>> _slots = [];
    private readonly Dictionary<(string Mob, long Slot), AafObject?> _segments = [];
    private readonly int _mostSegments = LeastSegments + (SegmentsAnEntry * file.Container.Entries);
    private int _visited;

    public EditTrack Track(AafObject slot, int order)
    {
        var unit = Unit(slot);
        var segment = slot.Object(AafPid.SlotSegment)!;
        var track = new EditTrack { Name = slot.Text(AafPid.SlotName) ?? string.Empty, Number = (int)(slot.Whole(AafPid.PhysicalTrackNumber) ?? order) };

        // Around a whole sequence gain and pan are the track's own; around one clip gain is the clip's.
        var groups = new List<AafObject>();
        while (segment.Is("OperationGroup") && groups.Count < Deepest && (AafKinds.IsGain(segment) || AafKinds.IsPan(segment)) && segment.Object(AafPid.InputSegments) is { } input)
        {
            groups.Add(segment);
            segment = input;
        }

        var whole = segment.Is("Sequence");
        var span = Evaluate(segment, unit, [], 0);
        var clips = span.Clips;
        foreach (var group in groups)
        {
            var length = Length(group, unit) is { Sign: > 0 } said ? said : span.Length;
            if (AafKinds.IsPan(group))
            {
                var (constant, points) = _parameters.Value(group, s_pan, 1);
                track = track with { Pan = constant ?? track.Pan, PanAutomation = points.IsEmpty ? track.PanAutomation : points };
            }
            else if (whole)
            {
                var (constant, points) = _parameters.Value(group, s_amplitude, length);
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

    private Rational Unit(AafObject slot) => slot.Ratio(AafPid.EditRate) is { Sign: > 0 } editRate ? rate.PerSecond / editRate : 1;

    private static Rational Length(AafObject segment, Rational unit) => Math.Max(0, segment.Whole(AafPid.Length) ?? 0) * unit;

    private AafSpan Evaluate(AafObject segment, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var length = Length(segment, unit);
        if (depth > Deepest || ++_visited > _mostSegments)
        {
            file.Find($"Segments are nested deeper than {Deepest}, come back to themselves, or are far more than the file has; what lies below was left out.");
            return AafSpan.Silence(length);
        }

        return segment switch
        {
            _ when segment.Is("Sequence") => Sequence(segment, unit, scopes, depth),
            _ when segment.Is("SourceClip") => SourceClip(segment, unit, depth),
            _ when segment.Is("Filler") => AafSpan.Silence(length),
            _ when segment.Is("OperationGroup") => Operation(segment, unit, scopes, depth),
            _ when segment.Is("Selector") => Selector(segment, unit, scopes, depth),
            _ when segment.Is("EssenceGroup") => segment.Object(AafPid.EssenceGroupChoices) is { } choice ? Evaluate(choice, unit, scopes, depth + 1) with { Length = length } : AafSpan.Silence(length),
            _ when segment.Is("NestedScope") => Scope(segment, unit, scopes, depth),
            _ when segment.Is("ScopeReference") => Reference(segment, unit, scopes, depth),
            _ => Unused(segment, length),
        };
    }

    private AafSpan Unused(AafObject segment, Rational length)
    {
        file.Find($"A {segment.Class} of {(length / rate.PerSecond).ToDouble():0.###} s on a sound track holds no sound that can be used; it is silent.");
        return AafSpan.Silence(length);
    }

    /// <summary>A transition overlaps the end of what comes before it and the start of what comes after.</summary>
    private AafSpan Sequence(AafObject sequence, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var clips = new List<EditClip>();
        Rational at = 0;
        EditFade? pending = null;
        foreach (var component in sequence.Objects(AafPid.Components))
        {
            if (component.Is("Transition"))
            {
                var (falls, rises) = _parameters.Fades(component, Length(component, unit));
                for (var i = clips.Count - 1; i >= 0 && clips[i].End >= at; i--)
                {
                    clips[i] = clips[i].End == at && falls.Length.Sign > 0 ? clips[i] with { FadeOut = falls } : clips[i];
                }

                at -= rises.Length;
                pending = rises.Length.Sign > 0 ? rises : null;
                continue;
            }

            var span = Evaluate(component, unit, scopes, depth + 1);
            foreach (var clip in span.Clips)
            {
                clips.Add(clip with { Start = clip.Start + at, FadeIn = clip.Start.Sign == 0 && pending is not null ? pending : clip.FadeIn });
            }

            at += span.Length;
            pending = null;
        }

        return new AafSpan(clips, at);
    }

    private AafSpan SourceClip(AafObject clip, Rational unit, int depth)
    {
        var length = Length(clip, unit);
        if (clip.MobId(AafPid.SourceId) is not { } id)
        {
            return AafSpan.Silence(length);
        }

        // Its start is in units of the slot that holds it, not of the one it refers to.
        var start = (clip.Whole(AafPid.StartTime) ?? 0) * unit;
        var span = Source(id, clip.Whole(AafPid.SourceMobSlotId) ?? 0, start, length, ChannelId(clip), null, depth);
        return new AafSpan(span.Clips.Select(c => WithFades(c, clip, unit, length)).ToList(), length);
    }

    private static int ChannelId(AafObject clip) => clip.Bytes(AafPid.ChannelIds) is { Length: >= 4 } ids ? BinaryPrimitives.ReadInt32LittleEndian(ids.Span) : 0;

    private static EditClip WithFades(EditClip clip, AafObject source, Rational unit, Rational length)
    {
        EditFade? Of(ushort lengthPid, ushort typePid) => source.Whole(lengthPid) is { } n and > 0 && source.Whole(typePid) is { } type and > 0
            ? new EditFade(n * unit, type == 2 ? FadeShape.EqualPower : FadeShape.Linear)
            : null;
        return clip with
        {
            FadeIn = clip.Start.Sign == 0 ? Of(AafPid.FadeInLength, AafPid.FadeInType) ?? clip.FadeIn : clip.FadeIn,
            FadeOut = clip.End == length ? Of(AafPid.FadeOutLength, AafPid.FadeOutType) ?? clip.FadeOut : clip.FadeOut,
        };
    }

    /// <summary>The sound of a mob's slot from a place on, for a length.</summary>
    private AafSpan Source(string id, long slotId, Rational start, Rational length, int channel, string? clipName, int depth)
    {
        if (depth > Deepest)
        {
            file.Find($"A chain of mobs is longer than {Deepest}, or comes back to itself; it is silent.");
            return AafSpan.Silence(length);
        }

        if (!file.ById.TryGetValue(id, out var mob))
        {
            file.Find($"{clipName ?? "A clip"} refers to the mob {id[^16..]}, which is not in the file; its media must be found by name.");
            return Clip(media.Unknown(id, clipName), clipName, channel, start, length);
        }

        var slot = SlotOf(id, mob, slotId);
        var from = start + ((slot?.Whole(AafPid.Origin) ?? 0) * (slot is null ? 1 : Unit(slot)));
        var name = mob.Text(AafPid.MobName) is { Length: > 0 } own ? own : clipName;
        if (mob.Object(AafPid.EssenceDescription) is { } descriptor && descriptor.Is("FileDescriptor"))
        {
            var known = media.Of(id, mob, clipName);
            return Clip(known, clipName, ChannelOf(mob, slot, known, channel), from, length);
        }

        if (slot is null || SegmentOf(id, slotId, slot) is not { } segment)
        {
            file.Find($"{name ?? "A clip"} refers to slot {slotId}, which its mob does not have; it is silent.");
            return AafSpan.Silence(length);
        }

        if (mob.Is("MasterMob") && channel == 0 && media.SoundSlots(mob) is { Count: > 1 } several)
        {
            channel = (int)(slot.Whole(AafPid.PhysicalTrackNumber) ?? several.FindIndex(s => s.Whole(AafPid.SlotId) == slotId) + 1);
        }

        // A clip may run past what a master mob says, never past the file; so the chain is followed and not cut.
        if (segment.Is("SourceClip") && !mob.Is("CompositionMob"))
        {
            var inner = (segment.Whole(AafPid.StartTime) ?? 0) * Unit(slot);
            return segment.MobId(AafPid.SourceId) is { } next
                ? Source(next, segment.Whole(AafPid.SourceMobSlotId) ?? 0, from + inner, length, channel > 0 ? channel : ChannelId(segment), name, depth + 1)
                : Clip(media.Unknown(id, name), name, channel, from, length);
        }

        return Cut(Evaluate(segment, Unit(slot), [], depth + 1), from, length);
    }

    private AafObject? SlotOf(string id, AafObject mob, long slotId)
    {
        if (!_slots.TryGetValue(id, out var slots))
        {
            slots = _slots[id] = [];
            foreach (var slot in mob.Objects(AafPid.Slots))
            {
                slots.TryAdd(slot.Whole(AafPid.SlotId) ?? 0, slot);
            }
        }

        return slots.GetValueOrDefault(slotId);
    }

    private AafObject? SegmentOf(string id, long slotId, AafObject slot) =>
        _segments.TryGetValue((id, slotId), out var known) ? known : _segments[(id, slotId)] = slot.Object(AafPid.SlotSegment);

    private int ChannelOf(AafObject mob, AafObject? slot, EditMedia known, int channel)
    {
        var slots = media.SoundSlots(mob);
        if (slots.Count > 1 && slot is not null)
        {
            return (int)(slot.Whole(AafPid.PhysicalTrackNumber) ?? slots.FindIndex(s => s.Whole(AafPid.SlotId) == slot.Whole(AafPid.SlotId)) + 1);
        }

        return known.Channels == 1 ? 1 : channel;
    }

    private AafSpan Clip(EditMedia known, string? name, int channel, Rational start, Rational length) => new(
        [new EditClip { Media = known.Id, Name = string.IsNullOrWhiteSpace(name) ? null : name, Channel = channel, Length = length, SourceOffset = start * known.Rate.PerSecond / rate.PerSecond }], length);

    /// <summary>A piece of a span, its clips cut at the edges; a fade that the cut reaches is gone.</summary>
    private AafSpan Cut(AafSpan span, Rational from, Rational length)
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

            var ratio = media.Known[clip.Media].Rate.PerSecond / rate.PerSecond;
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

        return new AafSpan(clips, length);
    }

    private static EditCurve Moved(EditCurve curve, Rational by) => by.Sign == 0 || curve.IsEmpty ? curve : curve with { Points = [.. curve.Points.Select(p => p with { Place = p.Place + by })] };

    private AafSpan Operation(AafObject group, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var length = Length(group, unit);
        if (group.Object(AafPid.InputSegments) is not { } input)
        {
            return Unused(group, length);
        }

        var span = Evaluate(input, unit, scopes, depth + 1);
        if (AafKinds.IsGain(group))
        {
            return span with { Clips = WithGain(span.Clips, group, length.Sign > 0 ? length : span.Length) };
        }

        if (AafKinds.IsPan(group))
        {
            return span with { Clips = WithPan(span.Clips, group, length.Sign > 0 ? length : span.Length) };
        }
        var name = group.Weak(AafPid.Operation) is { } id ? file.NameOf(id) : "without a name";
        file.Find($"The operation {name} cannot be carried; its sound goes without it.");
        return length.Sign > 0 ? span with { Length = length } : span;
    }

    private List<EditClip> WithGain(IReadOnlyList<EditClip> clips, AafObject group, Rational length)
    {
        var (constant, points) = _parameters.Value(group, s_amplitude, length);
        return clips.Select(c => c with
        {
            Gain = c.Gain * (constant ?? 1),
            GainCurve = points.IsEmpty ? c.GainCurve : Moved(points, -c.Start),
        }).ToList();
    }

    private List<EditClip> WithPan(IReadOnlyList<EditClip> clips, AafObject group, Rational length)
    {
        var (constant, points) = _parameters.Value(group, s_pan, length);
        var pan = constant is { } value ? new EditCurve([new EditPoint(0, value)], EditBetween.Hold) : points;
        return clips.Select(c => c with { Pan = constant is null ? Moved(pan, -c.Start) : pan }).ToList();
    }

    /// <summary>The selected sound with the others as its takes; silence selected beside sound is that sound muted.</summary>
    private AafSpan Selector(AafObject selector, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var length = Length(selector, unit);
        var selected = selector.Object(AafPid.Selected) is { } chosen ? Evaluate(chosen, unit, scopes, depth + 1) : AafSpan.Silence(length);
        var others = selector.Objects(AafPid.Alternates).Select(a => Evaluate(a, unit, scopes, depth + 1)).ToList();
        if (selected.Clips.Count == 0)
        {
            return new AafSpan(others.Take(1).SelectMany(o => o.Clips).Select(c => c with { Muted = true }).ToList(), length);
        }

        var takes = others.SelectMany(o => o.Clips).ToList();
        return new AafSpan(selected.Clips.Select((c, i) => i == 0 ? c with { Alternates = takes } : c).ToList(), length);
    }

    private AafSpan Scope(AafObject scope, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var slots = scope.Objects(AafPid.ScopeSlots).ToList();
        return slots.Count == 0 ? Unused(scope, Length(scope, unit)) : Evaluate(slots[^1], unit, [.. scopes, slots[..^1]], depth + 1);
    }

    // So many scopes out, and so many slots back from the one that refers.
    private AafSpan Reference(AafObject reference, Rational unit, IReadOnlyList<IReadOnlyList<AafObject>> scopes, int depth)
    {
        var scope = scopes.Count - 1 - (int)Math.Clamp(reference.Whole(AafPid.RelativeScope) ?? 0, 0, int.MaxValue);
        var back = (int)Math.Clamp(reference.Whole(AafPid.RelativeSlot) ?? 0, 0, int.MaxValue);
        if (scope < 0 || back < 1 || scopes[scope].Count < back)
        {
            return Unused(reference, Length(reference, unit));
        }

        var at = scopes[scope].Count - back;
        return Evaluate(scopes[scope][at], unit, [.. scopes.Take(scope), scopes[scope].Take(at).ToList()], depth + 1);
    }
}
