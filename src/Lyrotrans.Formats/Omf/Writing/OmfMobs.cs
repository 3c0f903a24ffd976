using Lyrotrans.Formats.Sessions;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>The mobs of media: a master mob that clips refer to, and a source mob with the descriptor of its sound; and that sound where it lies inside.</summary>
/// <remarks>docs/formats/omf.md, sections 4 and 5.</remarks>
internal sealed class OmfMobs(OmfBuilder build, IReadOnlyDictionary<string, MediaEssence> essence)
{
    public const string NoId = "000000000000000000000000";
    private readonly Dictionary<string, string> _masters = [];

    public List<uint> All { get; } = [];

    public List<uint> Data { get; } = [];

    /// <summary>What clips refer to a medium by.</summary>
    public string MasterId(Media media) =>
        _masters.TryGetValue(media.Id, out var known) ? known : _masters[media.Id] = OmfId.Of("master mob", $"{media.Id}\n{essence[media.Id].Identity}");

    /// <summary>The slot of a master mob for all channels, or for one of several (from 0).</summary>
    public static int SlotOf(Media media, int? channel) => media.Channels == 1 || channel is null ? 1 : channel.Value + 2;

    public void Add(Media media, string clipName, bool channelsAlone)
    {
        var own = essence[media.Id];
        var file = OmfId.Is(media.Id) ? media.Id : OmfId.Of("source mob", $"{media.Id}\n{own.Identity}");
        var data = DataOf(media.Channels);
        var rate = media.Rate.PerSecond;
        var source = Mob("SMOB", file, AsciiText.Of(own.FileName), [Slot(1, own.FileName, 1, rate, Clip(data, media.Length, NoId, 0, 0))]);
        build.Refer(source, "OMFI:SMOB:MediaDescription", Descriptor(media, own));
        var slots = new List<uint> { Slot(1, clipName, channelsAlone ? 0 : 1, rate, Clip(data, media.Length, file, 1, 0)) };
        for (var channel = 0; channelsAlone && channel < media.Channels; channel++)
        {
            slots.Add(Slot(SlotOf(media, channel), $"{clipName} {channel + 1}", channel + 1, rate, Clip("Sound", media.Length, file, 1, 0)));
        }

        All.Add(source);
        All.Add(Mob("MMOB", MasterId(media), AsciiText.Of(clipName), slots));
        if (own.BesidePath is null)
        {
            var sound = build.Object(own.IsAiff ? "AIFC" : "WAVE");
            build.Id(sound, "OMFI:MDAT:MobID", file);
            build.Container.Add(sound, own.IsAiff ? "OMFI:AIFC:Data" : "OMFI:WAVE:Data", "omfi:DataValue", own.Bytes, own.Write);
            Data.Add(sound);
        }
    }

    public static string DataOf(int channels) => channels == 2 ? "StereoSound" : "Sound";

    public uint Mob(string type, string id, string name, IReadOnlyList<uint> slots)
    {
        var mob = build.Object(type);
        build.Id(mob, "OMFI:MOBJ:MobID", id);
        build.Text(mob, "OMFI:MOBJ:Name", name);
        build.Stamp(mob, "OMFI:MOBJ:LastModified");
        build.Stamp(mob, "OMFI:MOBJ:CreationTime");
        build.Refer(mob, "OMFI:MOBJ:Slots", slots);
        return mob;
    }

    public uint Slot(int id, string name, int number, Rational editRate, uint segment)
    {
        var track = build.Object("TRKD");
        build.Whole(track, "OMFI:TRKD:TrackID", "omfi:UInt32", id);
        build.Text(track, "OMFI:TRKD:TrackName", AsciiText.Of(name));
        build.Whole(track, "OMFI:TRKD:PhysicalTrack", "omfi:UInt32", number);
        build.Units(track, "OMFI:TRKD:Origin", "Position", 0);
        var slot = build.Object("MSLT");
        build.Refer(slot, "OMFI:MSLT:Segment", segment);
        build.Ratio(slot, "OMFI:MSLT:EditRate", editRate, OmfOpenChoices.EditRateType);
        build.Refer(slot, "OMFI:MSLT:TrackDesc", track);
        return slot;
    }

    public uint Clip(string data, long length, string source, int slot, long start)
    {
        var clip = build.Segment("SCLP", data, length);
        build.Id(clip, "OMFI:SCLP:SourceID", source);
        build.Whole(clip, "OMFI:SCLP:SourceTrackID", "omfi:UInt32", slot);
        build.Units(clip, "OMFI:SCLP:StartTime", "Position", start);
        return clip;
    }

    private uint Descriptor(Media media, MediaEssence own)
    {
        var descriptor = build.Object(own.IsAiff ? "AIFD" : "WAVD");
        build.Bytes(descriptor, own.IsAiff ? "OMFI:AIFD:Summary" : "OMFI:WAVD:Summary", "omfi:DataValue", own.Head);
        build.Ratio(descriptor, "OMFI:MDFL:SampleRate", media.Rate.PerSecond);
        build.Units(descriptor, "OMFI:MDFL:Length", "Length", own.Layout.Frames);
        build.Flag(descriptor, "OMFI:MDFL:IsOMFI", own.BesidePath is null);
        if (own.BesidePath is { } path)
        {
            build.Refer(descriptor, "OMFI:MDES:Locator", [Locator("WINL", "OMFI:WINL:PathName", path.Replace('/', '\\')), Locator("TXTL", "OMFI:TXTL:Name", own.FileName)]);
        }

        return descriptor;
    }

    private uint Locator(string type, string property, string text)
    {
        var locator = build.Object(type);
        build.Text(locator, property, AsciiText.Of(text));
        return locator;
    }
}
