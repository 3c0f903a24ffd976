using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Edits.Chains;

/// <summary>
/// Reads a composition of a chain format: which of several is meant, its rates, tracks, timecode and picture. What differs between the formats is how each
/// says these; what is met and cannot be used is a finding.
/// </summary>
internal abstract class ChainReader<T>
    where T : class
{
    private const long MostFramesASecond = 1000;
    private const int DeepestRate = 4;
    private readonly IReadOnlyList<T> _all;
    private readonly IReadOnlyList<T> _top;

    /// <param name="format">How the file says its segments.</param>
    /// <param name="file">For errors.</param>
    /// <param name="compositions">All of the file.</param>
    /// <param name="mobOf">A composition as chains see it.</param>
    /// <exception cref="BadInputException">There is none.</exception>
    protected ChainReader(IChainFormat<T> format, string file, IReadOnlyList<T> compositions, Func<T, ChainMob<T>> mobOf)
    {
        (Format, _all) = (format, compositions);
        if (_all.Count == 0)
        {
            throw new BadInputException(EditCodes.NoComposition, file, string.Empty, "There is no composition in it: nothing says how its sound lies over time.", "Export the whole sequence, not a bin.");
        }

        var mobs = _all.Count == 1 ? [] : _all.Select(mobOf).ToList();
        var referred = mobs.Count == 0 ? [] : ChainWalk<T>.ReferredTo(format, mobs);
        _top = [.. _all.Where((_, i) => mobs.Count == 0 || mobs[i].Id.Length == 0 || !referred.Contains(mobs[i].Id))];
        _top = _top.Count == 0 ? [_all[0]] : _top;
    }

    /// <summary>The names of the compositions that no other refers to, the one that is meant first.</summary>
    public IReadOnlyList<string> Compositions => [Name(Chosen(null)), .. Others(Chosen(null))];

    protected IChainFormat<T> Format { get; }

    /// <summary>The media that were met so far.</summary>
    protected abstract IReadOnlyDictionary<string, DocumentMedia> Media { get; }

    /// <summary>The sampling rates that the descriptors of all media say.</summary>
    protected abstract IEnumerable<Rational?> MediaRates { get; }

    /// <summary>What the file says of itself, for inspection.</summary>
    protected virtual IReadOnlyDictionary<string, string> Facts => new Dictionary<string, string>();

    /// <param name="choice">The name of the composition to take; without it, or where there is none of that name, the one that is meant.</param>
    public EditComposition Read(string? choice)
    {
        var composition = Chosen(choice);
        var mob = MobOf(composition);
        var editRate = mob.SoundSlots.Select(EditRateOf).FirstOrDefault(r => r is { Sign: > 0 }) ?? 48_000;
        var rate = ChainRates.IsSampling(editRate) ? new SampleRate(editRate) : ChainRates.Commonest(MediaRates);
        var walk = new ChainWalk<T>(Format, rate);
        var tracks = mob.SoundSlots.Select((s, i) => walk.Track(s, i + 1)).ToList();
        var timecode = Timecode(mob);
        return new EditComposition
        {
            Name = Name(composition),
            Rate = rate,
            EditRate = editRate,
            FrameRate = timecode.Rate,
            TimecodeBase = timecode.Base,
            DropFrame = timecode.Drop,
            StartFrames = timecode.Start,
            Tracks = tracks,
            Media = Media,
            Markers = [.. Markers(composition, rate).OrderBy(m => m.Place)],
            Picture = Picture(mob, rate),
            Others = Others(composition),
            Comments = Comments(composition),
            Findings = [.. ChainRates.Coarse(editRate, rate), .. Format.Findings],
            Facts = Facts,
        };
    }

    /// <summary>A composition as chains see it.</summary>
    protected abstract ChainMob<T> MobOf(T composition);

    /// <summary>Null or empty where it has no name.</summary>
    protected abstract string? NameOf(T composition);

    /// <summary>Whether the file says that this one is the top.</summary>
    protected virtual bool IsTop(T composition) => false;

    protected abstract bool IsPicture(T segment);

    /// <summary>What a part of a picture track is called; null where it is no picture.</summary>
    protected abstract string? PictureName(T part);

    /// <summary>The slots in the order in which their timecode counts.</summary>
    protected virtual IEnumerable<ChainSlot<T>> InTimecodeOrder(IReadOnlyList<ChainSlot<T>> slots) => slots;

    /// <summary>Frames a second, drop and start in frames, where a segment is timecode.</summary>
    protected abstract (long Fps, bool Drop, long Start)? TimecodeOf(T segment);

    protected abstract IReadOnlyDictionary<string, string> Comments(T composition);

    /// <summary>Markers in samples of the composition's rate.</summary>
    protected virtual IEnumerable<EditMarker> Markers(T composition, SampleRate rate) => [];

    private T Chosen(string? choice) => (choice is null ? null : _all.FirstOrDefault(m => Name(m) == choice)) ?? _all.FirstOrDefault(IsTop) ?? _top[0];

    private IReadOnlyList<string> Others(T chosen) => [.. _top.Where(m => !m.Equals(chosen)).Select(Name)];

    private string Name(T composition) => NameOf(composition) is { Length: > 0 } name ? name : "unnamed";

    // Where every segment has a rate of its own, that of a track is the rate of what first lies on it.
    private Rational? EditRateOf(ChainSlot<T> slot) => slot.Segment is { } segment && FirstRate(segment, 0) is { } own ? own : slot.EditRate;

    private Rational? FirstRate(T segment, int depth) =>
        Format.EditRateOf(segment) ?? (depth < DeepestRate && Format.PartsOf(segment).FirstOrDefault() is { } first ? FirstRate(first, depth + 1) : null);

    private IEnumerable<T> Parts(T segment) => Format.KindOf(segment) == SegmentKind.Sequence ? Format.PartsOf(segment) : [segment];

    private (Rational Rate, int Base, bool Drop, long Start) Timecode(ChainMob<T> mob)
    {
        foreach (var slot in InTimecodeOrder(mob.Slots))
        {
            var parts = slot.Segment is { } segment ? Parts(segment) : [];
            if (parts.Select(p => (Part: p, Code: TimecodeOf(p))).FirstOrDefault(p => p.Code is not null) is (var part, { Fps: > 0 and < MostFramesASecond } code))
            {
                var said = Format.EditRateOf(part) ?? slot.EditRate;
                var rate = said is { Sign: > 0 } edit && edit <= code.Fps + 1 && edit >= code.Fps - 1 ? edit : code.Drop ? new Rational(code.Fps * 1000, 1001) : code.Fps;
                return (rate, (int)code.Fps, code.Drop, code.Start + slot.Origin);
            }
        }

        return (25, 25, false, 0);
    }

    private (string Name, Rational Start, long LengthFrames)? Picture(ChainMob<T> mob, SampleRate rate)
    {
        foreach (var slot in mob.Slots)
        {
            if (slot.Segment is not { } segment || !IsPicture(segment) || (Format.EditRateOf(segment) ?? slot.EditRate) is not { Sign: > 0 } editRate)
            {
                continue;
            }

            Rational at = 0;
            foreach (var part in Parts(segment))
            {
                var length = Format.LengthOf(part);
                if (PictureName(part) is { } name)
                {
                    return (name, at * rate.PerSecond / editRate, length);
                }

                at += length;
            }
        }

        return null;
    }
}
