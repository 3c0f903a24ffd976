using Lyrotrans.Formats.Sessions;
using System.Text;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Bento;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Omf.Writing;

/// <summary>
/// Writes a session as an OMF file of version 2.1: a composition with a slot for each track, a master and a source mob for each medium, the definitions and
/// classes that it uses, and the sound itself where it lies inside. Front to back, so that memory does not grow with the sound. The same session and form give
/// the same bytes.
/// </summary>
/// <remarks>docs/formats/omf.md, section 8.</remarks>
public sealed class OmfWriter
{
    private readonly Session _session;
    private readonly OmfForm _form;
    private readonly IReadOnlyDictionary<string, MediaEssence> _essence;
    private readonly OmfBuilder _build = new();
    private readonly Rational _unit;

    private OmfWriter(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OmfForm form)
    {
        _session = session;
        _essence = essence;
        _form = form;
        _unit = form.EditRate is { } rate ? session.Rate.PerSecond / rate : 1;
        Build();
    }

    /// <param name="session">
    /// Audio tracks with one lane, whose clips do not overlap but in crossfades as long as their fades, muted ones not at all; each takes one channel of its
    /// medium or all of them in order. Crossfades are linear, other fades linear, sampled, or of equal power as properties; texts are ASCII; places are whole edit units.
    /// </param>
    /// <param name="essence">For each medium of the session.</param>
    /// <param name="form">How it is written.</param>
    /// <param name="output">Written front to back; need not be seekable.</param>
    /// <exception cref="ArgumentException">The session says what the format cannot hold.</exception>
    /// <exception cref="InvalidOperationException">It would be larger than 4 GiB.</exception>
    public static void Write(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OmfForm form, Stream output) =>
        new OmfWriter(session, essence, form)._build.Container.Write(output);

    /// <summary>The size of the file that would be written, in bytes.</summary>
    public static long SizeOf(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OmfForm form) => new OmfWriter(session, essence, form)._build.Container.Size;

    private void Build()
    {
        var mobs = new OmfMobs(_build, _essence);
        var used = _session.Tracks.SelectMany(t => (t.Sounding?.Clips ?? []).Select(c => (Clip: c, Alone: t.Channels == 1))).ToLookup(p => p.Clip.Media);
        foreach (var media in _session.Media)
        {
            var name = used[media.Id].Select(p => p.Clip.Name).FirstOrDefault() ?? Path.GetFileNameWithoutExtension(media.FileName);
            mobs.Add(media, name, media.Channels > 1 && used[media.Id].Any(p => p.Alone));
        }

        var composition = Composition(mobs);
        const uint header = BentoIds.Container;
        _build.Class(header, "HEAD");
        _build.Bytes(header, "OMFI:HEAD:ByteOrder", "omfi:Int16", Encoding.ASCII.GetBytes("II"));
        _build.Stamp(header, "OMFI:HEAD:LastModified");
        _build.Bytes(header, "OMFI:HEAD:Version", "omfi:VersionType", [2, 1]);
        _build.Refer(header, "OMFI:HEAD:PrimaryMobs", [composition]);
        _build.Refer(header, "OMFI:HEAD:Mobs", [.. mobs.All, composition]);
        _build.Refer(header, "OMFI:HEAD:MediaData", mobs.Data);
        _build.Refer(header, "OMFI:HEAD:DefinitionObjects", _build.Definitions);
        _build.Refer(header, "OMFI:HEAD:ClassDictionary", _build.Dictionary());
    }

    private uint Composition(OmfMobs mobs)
    {
        var length = TrackSequence.LengthOf(_session, _unit);
        var media = _session.Media.ToDictionary(m => m.Id);
        var slots = new List<uint> { mobs.Slot(1, "Timecode", 1, _session.FrameRate.PerSecond, TimecodeSegment(length)) };
        foreach (var track in _session.Tracks)
        {
            var segment = new OmfTrack(_build, mobs, _session, track, media, _unit).Segment(length, _form.FadesAsProperties);
            slots.Add(mobs.Slot(slots.Count + 1, track.Name, slots.Count, _form.EditRate ?? _session.Rate.PerSecond, segment));
        }

        var form = $"{_form.EditRate} {_form.FadesAsProperties} {string.Join(' ', _form.Comments.Values)}";
        var id = OmfId.Of("composition", EditIdentity.Of(_session, _essence, form));
        var mob = mobs.Mob("CMOB", id, AsciiText.Of(_session.Name), slots);
        var comments = _session.Comments.Select(c => KeyValuePair.Create(c.Name, c.Text)).Concat(_form.Comments).Select(Attribute).ToList();
        if (comments.Count > 0)
        {
            var list = _build.Object("ATTR");
            _build.Refer(list, "OMFI:ATTR:AttrRefs", comments);
            _build.Refer(mob, "OMFI:MOBJ:UserAttributes", list);
        }

        return mob;
    }

    private uint TimecodeSegment(long length)
    {
        var frames = (long)(length * _unit / _session.Rate.PerSecond * _session.FrameRate.PerSecond).Ceiling();
        var segment = _build.Segment("TCCP", "Timecode", frames);
        _build.Units(segment, "OMFI:TCCP:StartTC", "Position", _session.Start.Frames);
        _build.Short(segment, "OMFI:TCCP:FPS", "omfi:UInt16", (short)_session.FrameRate.Nominal);
        _build.Whole(segment, "OMFI:TCCP:Flags", "omfi:UInt32", _session.FrameRate.Drop ? 1 : 0);
        return segment;
    }

    private uint Attribute(KeyValuePair<string, string> comment)
    {
        var attribute = _build.Object("ATTB");
        _build.Short(attribute, "OMFI:ATTB:Kind", "omfi:Int16", OmfOpenChoices.TextAttribute);
        _build.Text(attribute, "OMFI:ATTB:Name", AsciiText.Of(comment.Key));
        _build.Text(attribute, "OMFI:ATTB:StringAttribute", AsciiText.Of(comment.Value));
        return attribute;
    }
}
