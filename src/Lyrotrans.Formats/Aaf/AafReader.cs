using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf;

/// <summary>
/// Reads the composition of an AAF file: tracks, clips through any chain, fades, gain, pan, automation, markers, timecode, comments
/// and picture. What it meets and cannot use is a finding.
/// </summary>
/// <remarks>docs/formats/aaf.md, sections 3 and 7.</remarks>
public sealed class AafReader
{
    private const int MostSlots = 4_000;
    private static readonly Guid s_topLevel = new("0d010102-0101-0700-060e-2b3404010101");
    private readonly AafFile _file;
    private readonly AafObject _composition;
    private readonly AafFormat _format;
    private readonly AafKinds _kinds;

    private AafReader(AafFile file, string? choice)
    {
        _file = file;
        _format = new AafFormat(file);
        _kinds = _format.Kinds;
        var all = file.Mobs.Where(m => m.Is("CompositionMob")).ToList();
        var referred = all.Count < 2 ? [] : ChainWalk<AafObject>.ReferredTo(_format, all.Select(m => _format.MobOf(m.MobId(AafPid.MobId) ?? string.Empty, m)));
        bool IsReferred(AafObject mob) => mob.MobId(AafPid.MobId) is { } id && referred.Contains(id);
        _composition = (choice is null ? null : all.Find(m => m.Text(AafPid.MobName) == choice))
            ?? all.Find(m => m.Id(AafPid.UsageCode) == s_topLevel) ?? all.Find(m => !IsReferred(m)) ?? all.FirstOrDefault()
            ?? throw new BadInputException(EditCodes.NoComposition, file.Name, string.Empty, "There is no composition in it: nothing says how its sound lies over time.", "Export the whole sequence, not a bin.");
        Others = all.Where(m => m != _composition && !IsReferred(m)).Select(Name).ToList();
    }

    private IReadOnlyList<string> Others { get; }

    /// <param name="stream">Seekable.</param>
    /// <param name="name">For errors.</param>
    /// <param name="composition">The name of the composition to take; without it the top one.</param>
    /// <exception cref="BadInputException">Not an AAF file, damaged beyond reading, or without a composition.</exception>
    public static EditComposition Read(Stream stream, string name, string? composition = null) => Read(AafFile.Open(stream, name), composition);

    internal static EditComposition Read(AafFile file, string? composition) => new AafReader(file, composition).Read();

    /// <summary>The names of the compositions that no other refers to, the top one first.</summary>
    internal static IReadOnlyList<string> Compositions(AafFile file)
    {
        var reader = new AafReader(file, null);
        return [Name(reader._composition), .. reader.Others];
    }

    private EditComposition Read()
    {
        var slots = _composition.Objects(AafPid.Slots).Take(MostSlots).ToList();
        var sound = slots.Where(s => s.Object(AafPid.SlotSegment) is { } segment && _kinds.IsSound(segment)).ToList();
        var editRate = sound.Select(s => s.Ratio(AafPid.EditRate)).FirstOrDefault(r => r is { Sign: > 0 }) ?? 48_000;
        var rate = ChainRates.IsSampling(editRate)
            ? new SampleRate(editRate)
            : ChainRates.Commonest(_file.Mobs.Select(m => m.Object(AafPid.EssenceDescription)).OfType<AafObject>().Select(d => d.Ratio(AafPid.AudioSamplingRate) ?? d.Ratio(AafPid.FileSampleRate)));
        var media = _format.Media;
        var walk = new ChainWalk<AafObject>(_format, rate);
        var tracks = _format.MobOf("composition", _composition).SoundSlots.Select((s, i) => walk.Track(s, i + 1)).ToList();
        var markers = slots.Where(s => s.Is("EventMobSlot")).SelectMany(s => Markers(s, rate)).OrderBy(m => m.Place).ToList();
        var timecode = Timecode(slots);
        return new EditComposition
        {
            Name = Name(_composition),
            Rate = rate,
            EditRate = editRate,
            FrameRate = timecode.Rate,
            TimecodeBase = timecode.Base,
            DropFrame = timecode.Drop,
            StartFrames = timecode.Start,
            Tracks = tracks,
            Media = media.Known,
            Markers = markers,
            Picture = Picture(slots, rate, media),
            Others = Others,
            Comments = Comments(),
            Findings = [.. ChainRates.Coarse(editRate, rate), .. _file.Findings],
        };
    }

    private static string Name(AafObject mob) => mob.Text(AafPid.MobName) is { Length: > 0 } name ? name : "unnamed";

    private static IEnumerable<(Rational Place, Rational Length, string Text)> Markers(AafObject slot, SampleRate rate)
    {
        var unit = slot.Ratio(AafPid.EventEditRate) is { Sign: > 0 } editRate ? rate.PerSecond / editRate : 1;
        var segment = slot.Object(AafPid.SlotSegment);
        var events = segment is null ? [] : segment.Is("Sequence") ? segment.Objects(AafPid.Components) : [segment];
        foreach (var marker in events.Where(e => e.Is("CommentMarker")))
        {
            yield return ((marker.Whole(AafPid.EventPosition) ?? 0) * unit, Math.Max(0, marker.Whole(AafPid.Length) ?? 0) * unit, marker.Text(AafPid.EventComment) ?? string.Empty);
        }
    }

    private static (Rational Rate, int Base, bool Drop, long Start) Timecode(List<AafObject> slots)
    {
        foreach (var slot in slots.OrderBy(s => s.Whole(AafPid.PhysicalTrackNumber) == 1 ? 0 : 1))
        {
            var segment = slot.Object(AafPid.SlotSegment);
            var code = segment is null ? null : segment.Is("Timecode") ? segment : segment.Is("Sequence") ? segment.Objects(AafPid.Components).FirstOrDefault(c => c.Is("Timecode")) : null;
            if (code?.Whole(AafPid.TimecodeFps) is { } fps and > 0 and < 1000)
            {
                var drop = code.Whole(AafPid.TimecodeDrop) == 1;
                var rate = slot.Ratio(AafPid.EditRate) is { Sign: > 0 } edit && edit <= fps + 1 && edit >= fps - 1 ? edit : drop ? new Rational(fps * 1000, 1001) : fps;
                return (rate, (int)fps, drop, (code.Whole(AafPid.TimecodeStart) ?? 0) + (slot.Whole(AafPid.Origin) ?? 0));
            }
        }

        return (25, 25, false, 0);
    }

    private (string Name, Rational Start, long LengthFrames)? Picture(List<AafObject> slots, SampleRate rate, AafMedia media)
    {
        foreach (var slot in slots)
        {
            if (slot.Object(AafPid.SlotSegment) is not { } segment || !_kinds.IsPicture(segment) || slot.Ratio(AafPid.EditRate) is not { Sign: > 0 } editRate)
            {
                continue;
            }

            Rational at = 0;
            foreach (var part in segment.Is("Sequence") ? segment.Objects(AafPid.Components) : [segment])
            {
                var length = part.Whole(AafPid.Length) ?? 0;
                if (part.MobId(AafPid.SourceId) is { } id && media.LocatorOf(id) is { } name)
                {
                    return (name, at * rate.PerSecond / editRate, length);
                }

                at += length;
            }
        }

        return null;
    }

    private Dictionary<string, string> Comments()
    {
        var comments = new Dictionary<string, string>();
        foreach (var comment in _composition.Objects(AafPid.UserComments))
        {
            if (comment.Text(AafPid.TaggedName) is { } name && comment.Indirect(AafPid.TaggedValue) is { } value)
            {
                comments[name] = AafObject.TextOf(value.Span);
            }
        }

        return comments;
    }
}
