using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf;

/// <summary>Reads the composition of an OMF file of version 1 or 2. What it meets and cannot use is a finding.</summary>
/// <remarks>docs/formats/omf.md, section 4.</remarks>
internal sealed class OmfReader
{
    private const string MobId = "OMFI:MOBJ:MobID";
    private readonly OmfFile _file;
    private readonly OmfFormat _format;
    private readonly List<OmfObject> _top;

    public OmfReader(OmfFile file)
    {
        _file = file;
        _format = OmfFormat.Of(file);
        var all = _format.Compositions;
        if (all.Count == 0)
        {
            throw new BadInputException(EditCodes.NoComposition, file.Name, string.Empty, "There is no composition in it: nothing says how its sound lies over time.", "Export the whole sequence, not a bin.");
        }

        var referred = all.Count == 1 ? [] : ChainWalk<OmfObject>.ReferredTo(_format, all.Select(m => _format.MobOf(m.MobId(MobId) ?? string.Empty, m)));
        _top = [.. all.Where(m => m.MobId(MobId) is not { } id || !referred.Contains(id))];
        _top = _top.Count == 0 ? [all[0]] : _top;
    }

    /// <summary>The names of the compositions that no other refers to, the one that is meant first.</summary>
    public IReadOnlyList<string> Compositions => [.. _top.Select(Name)];

    public OmfMedia Media => _format.Media;

    public EditComposition Read(string? choice)
    {
        var composition = (choice is null ? null : _top.Find(m => Name(m) == choice)) ?? _top[0];
        var mob = _format.MobOf("composition", composition);
        var editRate = mob.SoundSlots.Select(EditRateOf).FirstOrDefault(r => r is { Sign: > 0 }) ?? 48_000;
        var rate = ChainRates.IsSampling(editRate) ? new SampleRate(editRate) : ChainRates.Commonest(_file.Mobs.Select(_format.Media.DescriptorOf).OfType<OmfObject>().Select(d => d.Ratio("OMFI:MDFL:SampleRate")));
        var walk = new ChainWalk<OmfObject>(_format, rate);
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
            Media = _format.Media.Known,
            Picture = Picture(mob, rate),
            Others = [.. _top.Where(m => m.Id != composition.Id).Select(Name)],
            Comments = Comments(composition),
            Findings = [.. ChainRates.Coarse(editRate, rate), .. _file.Findings],
            Facts = new Dictionary<string, string>
            {
                ["omfVersion"] = _file.Version == 1 ? "1" : "2",
                ["byteOrder"] = _file.IsBigEndian ? "big" : "little",
                ["tocFormat"] = _file.Container.ContentsForm == 1 ? "1" : "2",
            },
        };
    }

    private Rational? EditRateOf(ChainSlot<OmfObject> slot) => slot.Segment is { } segment && FirstRate(segment, 0) is { } own ? own : slot.EditRate;

    // In version 1 the rate of a track is that of what first lies on it.
    private Rational? FirstRate(OmfObject segment, int depth) =>
        _format.EditRateOf(segment) ?? (depth < 4 && _format.PartsOf(segment).FirstOrDefault() is { } first ? FirstRate(first, depth + 1) : null);

    private string Name(OmfObject mob) => _format.NameOf(mob) is { Length: > 0 } name ? name : "unnamed";

    private (Rational Rate, int Base, bool Drop, long Start) Timecode(ChainMob<OmfObject> mob)
    {
        foreach (var slot in mob.Slots)
        {
            var code = slot.Segment is not { } segment ? null : segment.Is("TCCP") ? segment : segment.Is("SEQU") ? _format.PartsOf(segment).FirstOrDefault(c => c.Is("TCCP")) : null;
            if (code?.Whole("OMFI:TCCP:FPS") is { } fps and > 0 and < 1000)
            {
                var drop = ((code.Whole("OMFI:TCCP:Flags") ?? 0) & 1) == 1;
                var rate = (_format.EditRateOf(code) ?? slot.EditRate) is { Sign: > 0 } edit && edit <= fps + 1 && edit >= fps - 1 ? edit : drop ? new Rational(fps * 1000, 1001) : fps;
                return (rate, (int)fps, drop, (code.Whole("OMFI:TCCP:StartTC") ?? 0) + slot.Origin);
            }
        }

        return (25, 25, false, 0);
    }

    private (string Name, Rational Start, long LengthFrames)? Picture(ChainMob<OmfObject> mob, SampleRate rate)
    {
        foreach (var slot in mob.Slots)
        {
            if (slot.Segment is not { } segment || !_format.IsPicture(segment) || (_format.EditRateOf(segment) ?? slot.EditRate) is not { Sign: > 0 } editRate)
            {
                continue;
            }

            Rational at = 0;
            foreach (var part in segment.Is("SEQU") ? _format.PartsOf(segment) : [segment])
            {
                var length = _format.LengthOf(part);
                if (part.Is("SCLP") && _format.SourceOf(part).Mob is { } id && _format.MobOf(id)?.Name is { Length: > 0 } name)
                {
                    return (name, at * rate.PerSecond / editRate, length);
                }

                at += length;
            }
        }

        return null;
    }

    private Dictionary<string, string> Comments(OmfObject composition)
    {
        var comments = new Dictionary<string, string>();
        var list = composition.Object(_file.Version == 1 ? "OMFI:CPNT:Attributes" : "OMFI:MOBJ:UserAttributes");
        foreach (var attribute in list?.Objects("OMFI:ATTR:AttrRefs") ?? [])
        {
            if (attribute.Text("OMFI:ATTB:Name") is { Length: > 0 } name && attribute.Text("OMFI:ATTB:StringAttribute") is { } text)
            {
                comments[name] = text;
            }
        }

        return comments;
    }
}
