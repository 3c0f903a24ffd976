using Lyrotrans.Formats.Sessions;
using System.Buffers.Binary;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>The mobs of media: a master mob that clips refer to, and a file source mob with the descriptor of its sound.</summary>
/// <remarks>docs/formats/aaf.md, sections 3 and 4.</remarks>
internal sealed class AafMobs(IReadOnlyDictionary<string, MediaEssence> essence)
{
    private const long MostSummary = 60_000;
    private static readonly byte[] s_stamp = [0xD0, 0x07, 1, 1, 0, 0, 0, 0];

    /// <summary>
    /// The date in every file: the first instant of 2000. The same session and choices give the same bytes, so the date of the build is
    /// told by the package's manifest, not here.
    /// </summary>
    public static byte[] Stamp => s_stamp;

    private readonly Dictionary<string, byte[]> _masters = [];

    public List<(byte[] Key, AafNode Node)> Mobs { get; } = [];

    public List<(byte[] Key, AafNode Node)> Data { get; } = [];

    public static AafNode Mob(string type, byte[] id, string name, IReadOnlyList<AafNode> slots) => new AafNode(type)
        .Data(AafPid.MobId, id)
        .Text(AafPid.MobName, name)
        .OwnVector(AafPid.Slots, slots)
        .Data(AafPid.MobLastModified, s_stamp)
        .Data(AafPid.MobCreationTime, s_stamp);

    public static AafNode Slot(int id, string name, int number, Rational editRate, AafNode segment) => new AafNode("TimelineMobSlot")
        .Whole(AafPid.SlotId, id)
        .Text(AafPid.SlotName, name)
        .Own(AafPid.SlotSegment, segment)
        .Whole(AafPid.PhysicalTrackNumber, number)
        .Ratio(AafPid.EditRate, editRate)
        .Long(AafPid.Origin, 0);

    public static AafNode Clip(Guid data, long length, byte[] source, int slot, long start) => Segment("SourceClip", data, length)
        .Data(AafPid.SourceId, source)
        .Whole(AafPid.SourceMobSlotId, slot)
        .Long(AafPid.StartTime, start);

    public static AafNode Segment(string type, Guid data, long length) => new AafNode(type).Weak(AafPid.DataDefinition, AafPath.Data, data).Long(AafPid.Length, length);

    public static AafNode Comment(string name, string text) => new AafNode("TaggedValue")
        .Text(AafPid.TaggedName, name)
        .Indirect(AafPid.TaggedValue, "String", System.Text.Encoding.Unicode.GetBytes(text + '\0'));

    /// <summary>What clips refer to a medium by.</summary>
    public byte[] MasterId(Media media) =>
        _masters.TryGetValue(media.Id, out var known) ? known : _masters[media.Id] = AafIds.Mob("master mob", $"{media.Id}\n{essence[media.Id].Identity}");

    /// <summary>The slot of a master mob for all channels, or for one of several (from 0).</summary>
    public static int SlotOf(Media media, int? channel) => media.Channels == 1 || channel is null ? 1 : channel.Value + 2;

    public void Add(Media media, string clipName, bool channelsAlone)
    {
        var own = essence[media.Id];
        var file = AafIds.Known(media.Id) ?? AafIds.Mob("file source mob", $"{media.Id}\n{own.Identity}");
        var rate = media.Rate.PerSecond;
        AafNode Whole(byte[] source) => Clip(AafDictionary.Sound, media.Length, source, source == AafIds.None ? 0 : 1, 0);
        var slots = new List<AafNode> { Slot(1, clipName, channelsAlone ? 0 : 1, rate, Whole(file)) };
        for (var channel = 0; channelsAlone && channel < media.Channels; channel++)
        {
            var one = new byte[4];
            BinaryPrimitives.WriteInt32LittleEndian(one, channel + 1);
            slots.Add(Slot(SlotOf(media, channel), $"{clipName} {channel + 1}", channel + 1, rate, Whole(file).Data(AafPid.ChannelIds, one)));
        }

        Mobs.Add((MasterId(media), Mob("MasterMob", MasterId(media), clipName, slots)));
        Mobs.Add((file, Mob("SourceMob", file, own.FileName, [Slot(1, own.FileName, 1, rate, Whole(AafIds.None))]).Own(AafPid.EssenceDescription, Descriptor(media, own))));
        if (own.BesidePath is null)
        {
            Data.Add((file, new AafNode("EssenceData").Data(AafPid.EssenceMobId, file).Stream(AafPid.EssenceStream, own.Bytes, own.Write)));
        }
    }

    private static AafNode Descriptor(Media media, MediaEssence own)
    {
        var node = new AafNode(own.IsPlainSamples ? "PCMDescriptor" : own.IsAiff ? "AIFCDescriptor" : "WAVEDescriptor")
            .Ratio(AafPid.FileSampleRate, media.Rate.PerSecond)
            .Long(AafPid.FileLength, own.Layout.Frames)
            .Weak(AafPid.ContainerFormat, AafPath.Containers, own.BesidePath is null ? AafDictionary.Inside : AafDictionary.Beside);
        if (own.BesidePath is { } path)
        {
            node.OwnVector(AafPid.Locators, [new AafNode("NetworkLocator").Text(AafPid.UrlString, Url(path))]);
        }

        return own.IsPlainSamples
            ? node.Whole(AafPid.QuantizationBits, own.Layout.BytesPerFrame / own.Layout.Channels * 8)
                .Ratio(AafPid.AudioSamplingRate, media.Rate.PerSecond)
                .Whole(AafPid.Channels, own.Layout.Channels)
                .Whole(AafPid.AverageBytesPerSecond, (long)(media.Rate.PerSecond * own.Layout.BytesPerFrame).Floor())
                .Word(AafPid.BlockAlign, own.Layout.BytesPerFrame)
            : node.Data(own.IsAiff ? AafPid.AifcSummary : AafPid.WaveSummary, own.Head.Length <= MostSummary ? own.Head : throw new ArgumentException($"The header of {own.FileName} is too long for a descriptor."));
    }

    // Each part percent-encoded; relative, so that it holds wherever the package is unpacked.
    private static string Url(string path) => string.Join('/', path.Split('/').Select(Uri.EscapeDataString));
}
