using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Sessions;
using System.Buffers.Binary;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Compound;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Aaf.Writing;

/// <summary>
/// Writes a session as an AAF file by the published object model: a composition with a slot for each track, a master and a file mob for each
/// medium, all definitions that it uses, and the sound itself where it lies inside. Front to back, so that memory does not grow with the sound.
/// The same session and form give the same bytes.
/// </summary>
/// <remarks>docs/formats/aaf.md, section 9.</remarks>
public sealed class AafWriter
{
    private const string Version = "1.0";

    // Major, minor, tertiary and patch of 16 bits, and that it is released.
    private static readonly byte[] s_version = [1, 0, 0, 0, 0, 0, 0, 0, 1];

    // A value's size has 16 bits, and a character two bytes.
    private const int LongestComment = 30_000;
    private static readonly Guid s_product = new("5d0f4a52-9f0e-4a83-8a4c-6c79726f7472");
    private static readonly Guid s_editProtocol = new("0d011201-0100-0000-060e-2b3404010105");
    private static readonly Guid s_topLevel = new("0d010102-0101-0700-060e-2b3404010101");
    private readonly Session _session;
    private readonly AafForm _form;
    private readonly AafMobs _mobs;
    private readonly Dictionary<string, Media> _media;
    private readonly string _identity;

    private AafWriter(Session session, IReadOnlyDictionary<string, MediaEssence> essence, AafForm form)
    {
        _session = session;
        _form = form;
        _media = session.Media.ToDictionary(m => m.Id);
        _mobs = new AafMobs(essence);
        _identity = EditIdentity.Of(session, essence, $"{form.SectorBytes} {form.EditRate} {form.FadesAsProperties} {string.Join(' ', form.Comments.Values)}");
    }

    /// <param name="session">
    /// Audio tracks with one lane, whose clips do not overlap but in crossfades as long as their fades, muted ones not at all; each takes one channel of its
    /// medium or all of them in order. Fades have shapes that the format knows; places are whole edit units.
    /// </param>
    /// <param name="essence">For each medium of the session.</param>
    /// <param name="form">How it is written.</param>
    /// <param name="output">Written front to back; need not be seekable.</param>
    /// <exception cref="ArgumentException">The session says what the format cannot hold.</exception>
    public static void Write(Session session, IReadOnlyDictionary<string, MediaEssence> essence, AafForm form, Stream output) =>
        CompoundWriter.Write(new AafWriter(session, essence, form).Root().ToStorage(string.Empty), form.SectorBytes, output);

    /// <summary>The size of the file that would be written, in bytes.</summary>
    public static long SizeOf(Session session, IReadOnlyDictionary<string, MediaEssence> essence, AafForm form) =>
        CompoundWriter.SizeOf(new AafWriter(session, essence, form).Root().ToStorage(string.Empty), form.SectorBytes);

    private AafNode Root() => new AafNode(string.Empty)
        .Own(AafPid.RootMetaDictionary, AafMetaDictionary.Make())
        .Own(AafPid.RootHeader, Header())
        .Loose(new CompoundContent("referenced properties", AafPaths.Table()));

    private AafNode Header() => new AafNode("Header")
        .Word(AafPid.HeaderByteOrder, 0x4949)
        .Data(AafPid.HeaderLastModified, AafMobs.Stamp)
        .Data(AafPid.HeaderVersion, [1, 2])
        .Whole(AafPid.HeaderModelVersion, 1)
        .Id(AafPid.OperationalPattern, s_editProtocol)
        .OwnVector(AafPid.Identifications, [Identification()])
        .Own(AafPid.HeaderContent, Content())
        .Own(AafPid.HeaderDictionary, AafDictionary.Make());

    private AafNode Identification() => new AafNode("Identification")
        .Text(AafPid.CompanyName, "Lyrotrans")
        .Text(AafPid.ProductName, "Lyrotrans")
        .Data(AafPid.ProductVersion, s_version)
        .Text(AafPid.ProductVersionText, Version)
        .Id(AafPid.ProductId, s_product)
        .Data(AafPid.ProductDate, AafMobs.Stamp)
        .Data(AafPid.ToolkitVersion, s_version)
        .Text(AafPid.Platform, "Linux")
        .Id(AafPid.Generation, AafIds.Auid("generation", _identity));

    private AafNode Content()
    {
        var used = _session.Tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Select(c => (Clip: c, Alone: t.Channels == 1))).ToLookup(p => p.Clip.Media);
        foreach (var media in _session.Media)
        {
            var name = used[media.Id].Select(p => p.Clip.Name).FirstOrDefault() ?? Path.GetFileNameWithoutExtension(media.FileName);
            _mobs.Add(media, WithoutControls(name), media.Channels > 1 && used[media.Id].Any(p => p.Alone));
        }

        var composition = Composition();
        var picture = Picture();
        IReadOnlyList<(byte[], AafNode)> mobs = [composition, .. _mobs.Mobs, .. picture];
        var content = new AafNode("ContentStorage").OwnSet(AafPid.Mobs, AafPid.MobId, mobs, 32);
        return _mobs.Data.Count > 0 ? content.OwnSet(AafPid.EssenceDataSet, AafPid.EssenceMobId, _mobs.Data, 32) : content;
    }

    private (byte[], AafNode) Composition()
    {
        var length = TrackSequence.LengthOf(_session, Unit);
        var slots = new List<AafNode> { TimecodeSlot(length) };
        foreach (var track in _session.Tracks)
        {
            slots.Add(AafMobs.Slot(slots.Count + 1, WithoutControls(track.Name), slots.Count, EditRate, AafTrack.Segment(_session, track, _form, _mobs, _media, length)));
        }

        if (_session.Picture is { } reference)
        {
            slots.Add(PictureSlot(reference, slots.Count + 1));
        }

        if (_session.Markers.Count > 0)
        {
            slots.Add(MarkerSlot(slots.Count + 1));
        }

        var id = AafIds.Mob("composition", _identity);
        var mob = AafMobs.Mob("CompositionMob", id, WithoutControls(_session.Name), slots).Id(AafPid.UsageCode, s_topLevel);
        var comments = _session.Comments.Select(c => KeyValuePair.Create(c.Name, c.Text)).Concat(_form.Comments).Where(c => c.Value.Length <= LongestComment).ToList();
        return (id, comments.Count == 0 ? mob : mob.OwnVector(AafPid.UserComments, [.. comments.Select(c => AafMobs.Comment(c.Key, c.Value))]));
    }

    private Rational EditRate => _form.EditRate ?? _session.Rate.PerSecond;

    private Rational Unit => AafTrack.UnitOf(_session, _form);

    private AafNode TimecodeSlot(long length)
    {
        var frames = (long)(length * Unit / _session.Rate.PerSecond * _session.FrameRate.PerSecond).Ceiling();
        var segment = AafMobs.Segment("Timecode", AafDictionary.Timecode, frames)
            .Long(AafPid.TimecodeStart, _session.Start.Frames)
            .Word(AafPid.TimecodeFps, _session.FrameRate.Nominal)
            .Flag(AafPid.TimecodeDrop, _session.FrameRate.Drop);
        return AafMobs.Slot(1, "Timecode", 1, _session.FrameRate.PerSecond, segment);
    }

    private AafNode MarkerSlot(int id)
    {
        var slots = new byte[4];
        BinaryPrimitives.WriteInt32LittleEndian(slots, 2);
        var markers = _session.Markers.Select(m =>
        {
            var at = (m.Sample / Unit).RoundToEven();
            var node = new AafNode("DescriptiveMarker").Weak(AafPid.DataDefinition, AafPath.Data, AafDictionary.Descriptive);
            return (m.Length > 0 ? node.Long(AafPid.Length, ((m.Sample + m.Length) / Unit).RoundToEven() - at) : node)
                .Long(AafPid.EventPosition, at)
                .Text(AafPid.EventComment, m.Text)
                .OwnVector(AafPid.ComponentComments, [AafMobs.Comment("User", Said(m.By, Marker.Nobody)), AafMobs.Comment("Date", Said(m.Date, Marker.NoDate))])
                .Data(AafPid.DescribedSlots, slots);
        });
        return new AafNode("EventMobSlot")
            .Whole(AafPid.SlotId, id)
            .Text(AafPid.SlotName, "Markers")
            .Own(AafPid.SlotSegment, new AafNode("Sequence").Weak(AafPid.DataDefinition, AafPath.Data, AafDictionary.Descriptive).OwnVector(AafPid.Components, [.. markers]))
            .Whole(AafPid.PhysicalTrackNumber, 1)
            .Ratio(AafPid.EventEditRate, EditRate)
            .Long(AafPid.EventSlotOrigin, 0);
    }

    private static string Said(string text, string standIn) => text.Length > 0 ? text : standIn;

    private AafNode PictureSlot(PictureReference picture, int id)
    {
        var before = Math.Max(0, picture.Start.Frames - _session.Start.Frames);
        var frames = Math.Max(1, picture.LengthFrames);
        var clip = AafMobs.Clip(AafDictionary.Picture, frames, PictureId(picture, "master mob"), 1, 0);
        return AafMobs.Slot(id, "Picture", 1, _session.FrameRate.PerSecond, AafMobs.Segment("Sequence", AafDictionary.Picture, before + frames)
            .OwnVector(AafPid.Components, before > 0 ? [AafMobs.Segment("Filler", AafDictionary.Picture, before), clip] : [clip]));
    }

    private static byte[] PictureId(PictureReference picture, string role) => AafIds.Mob($"picture {role}", picture.FileName);

    /// <summary>The reference picture by its name only: what is needed to find the file, and no claim of what is in it.</summary>
    private IEnumerable<(byte[], AafNode)> Picture()
    {
        if (_session.Picture is not { } picture)
        {
            yield break;
        }

        var frames = Math.Max(1, picture.LengthFrames);
        var (master, source) = (PictureId(picture, "master mob"), PictureId(picture, "source mob"));
        yield return (master, AafMobs.Mob("MasterMob", master, WithoutControls(picture.FileName), [AafMobs.Slot(1, "Picture", 1, _session.FrameRate.PerSecond, AafMobs.Clip(AafDictionary.Picture, frames, source, 1, 0))]));
        yield return (source, AafMobs.Mob("SourceMob", source, WithoutControls(picture.FileName), [AafMobs.Slot(1, "Picture", 1, _session.FrameRate.PerSecond, AafMobs.Clip(AafDictionary.Picture, frames, AafIds.None, 0, 0))])
            .Own(AafPid.EssenceDescription, new AafNode("ImportDescriptor").OwnVector(AafPid.Locators, [new AafNode("NetworkLocator").Text(AafPid.UrlString, Uri.EscapeDataString(picture.FileName))])));
    }

    // A name with control characters is refused by some readers.
    private static string WithoutControls(string name) => string.Concat(name.Where(c => !char.IsControl(c)));
}
