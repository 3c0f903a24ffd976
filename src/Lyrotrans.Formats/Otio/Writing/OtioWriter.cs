using Lyrotrans.Formats.Sessions;
using System.Text.Json;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits.Chains;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Formats.Otio.Writing;

/// <summary>
/// Writes a session as an OTIO timeline: tracks, clips, gaps, transitions and markers, with media beside it. What the format has no place for lies in the timeline's
/// metadata under one key, as the open session document has it. The same session and form give the same bytes.
/// </summary>
/// <remarks>docs/formats/otio.md, section 8.</remarks>
public sealed class OtioWriter
{
    private readonly Session _session;
    private readonly IReadOnlyDictionary<string, MediaEssence> _essence;
    private readonly OtioForm _form;
    private readonly Utf8JsonWriter _json;
    private readonly Dictionary<string, Media> _media;
    private readonly Rational _unit;
    private readonly double _rate;

    private OtioWriter(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OtioForm form, Utf8JsonWriter json)
    {
        _session = session;
        _essence = essence;
        _form = form;
        _json = json;
        _media = session.Media.ToDictionary(m => m.Id);
        var rate = form.EditRate ?? session.Rate.PerSecond;
        _unit = session.Rate.PerSecond / rate;
        _rate = rate.ToDouble();
    }

    /// <param name="session">Audio tracks whose sounding clips do not overlap but in crossfades as long as their fades; places are whole edit units. Tracks of other kinds go in the metadata.</param>
    /// <param name="essence">For each medium of the session, beside the document.</param>
    /// <param name="form">How it is written.</param>
    /// <param name="output">Written front to back.</param>
    public static void Write(Session session, IReadOnlyDictionary<string, MediaEssence> essence, OtioForm form, Stream output)
    {
        using var json = new Utf8JsonWriter(output, new JsonWriterOptions { Indented = true, IndentSize = 1 });
        new OtioWriter(session, essence, form, json).Timeline();
    }

    private void Timeline()
    {
        Begin("Timeline.1", _session.Name);
        Time("global_start_time", _session.Start.Frames, _session.FrameRate.PerSecond.ToDouble());
        _json.WriteStartObject("tracks");
        Schema("Stack.1");
        _json.WriteString("name", "tracks");
        Empty();
        _json.WriteStartArray("markers");
        foreach (var marker in _session.Markers)
        {
            Marker(marker);
        }

        _json.WriteEndArray();
        _json.WriteStartArray("children");
        Picture();
        var length = TrackSequence.LengthOf(_session, _unit);
        foreach (var track in _session.Tracks.Where(t => t.Kind == TrackKind.Audio))
        {
            Track(track, length);
        }

        _json.WriteEndArray();
        _json.WriteStartObject("metadata");
        _json.WriteEndObject();
        _json.WriteEndObject();
        Own();
        _json.WriteEndObject();
    }

    private void Own()
    {
        _json.WriteStartObject("metadata");
        _json.WriteStartObject(OtioNode.OwnKey);
        _json.WriteStartObject("comments");
        foreach (var (name, text) in _form.Comments)
        {
            _json.WriteString(name, text);
        }

        _json.WriteEndObject();
        _json.WritePropertyName("session");
        _json.WriteRawValue(SessionDocumentWriter.Write(_session), skipInputValidation: true);
        _json.WriteEndObject();
        _json.WriteEndObject();
    }

    private void Marker(Marker marker)
    {
        var start = (marker.Sample / _unit).RoundToEven();
        Begin("Marker.2", marker.Text);
        _json.WriteString("color", "GREEN");
        _json.WriteString("comment", string.Empty);
        Range("marked_range", start, marker.Length > 0 ? ((marker.Sample + marker.Length) / _unit).RoundToEven() - start : 0, _rate);
        OwnTexts(("by", marker.By), ("date", marker.Date));
        _json.WriteEndObject();
    }

    private void Track(Track track, long length)
    {
        Begin("Track.1", track.Name);
        _json.WriteString("kind", "Audio");
        Empty();
        OwnText("track", track.Id);
        _json.WriteStartArray("markers");
        _json.WriteEndArray();
        _json.WriteStartArray("children");
        var parts = TrackSequence.Of(track, _unit, false, length);
        for (var i = 0; i < parts.Count; i++)
        {
            // A cut lies inside the overlap: what is before it ends there, and what follows begins there.
            var (before, after) = (i > 0 ? parts[i - 1] as SequencePart.Transition : null, i + 1 < parts.Count ? parts[i + 1] as SequencePart.Transition : null);
            Part(track, parts[i], before?.Cut ?? 0, after is null ? 0 : after.Length - after.Cut, i == 0 || i == parts.Count - 1);
        }

        _json.WriteEndArray();
        _json.WriteEndObject();
    }

    private void Part(Track track, SequencePart part, long cutBefore, long cutAfter, bool isEnd)
    {
        switch (part)
        {
            case SequencePart.Transition transition:
                // A transition lies between two things, if only between nothing and a clip.
                if (isEnd)
                {
                    Gap(0);
                }

                Begin("Transition.1", string.Empty);
                Time("in_offset", transition.Cut, _rate);
                Time("out_offset", transition.Length - transition.Cut, _rate);
                _json.WriteString("transition_type", "SMPTE_Dissolve");
                _json.WriteStartObject("metadata");
                _json.WriteEndObject();
                _json.WriteEndObject();
                break;
            case SequencePart.Sound sound:
                Clip(track, sound, cutBefore, cutAfter);
                break;
            default:
                Gap(part.Length - cutBefore - cutAfter);
                break;
        }
    }

    private void Gap(long length)
    {
        Begin("Gap.1", string.Empty);
        Range("source_range", 0, length, _rate);
        Lists(true);
        _json.WriteEndObject();
    }

    private void Clip(Track track, SequencePart.Sound part, long cutBefore, long cutAfter)
    {
        var (clip, medium) = (part.Clip, _media[part.Clip.Media]);
        Begin("Clip.2", clip.Name);
        Range("source_range", TrackSequence.SourceStart(_session, clip, medium, _unit) + cutBefore, part.Length - cutBefore - cutAfter, _rate);
        Lists(!clip.Muted, "clip", clip.Id);
        _json.WriteStartObject("media_references");
        _json.WriteStartObject("DEFAULT_MEDIA");
        var own = _essence[medium.Id];
        Schema(own.IsMissing ? "MissingReference.1" : "ExternalReference.1");
        _json.WriteString("name", medium.FileName);
        if (!own.IsMissing && own.BesidePath is { } beside)
        {
            _json.WriteString("target_url", string.Join('/', beside.Split('/').Select(Uri.EscapeDataString)));
        }

        Range("available_range", 0, medium.Length, medium.Rate.PerSecond.ToDouble());
        _json.WriteNull("available_image_bounds");
        OwnText("media", medium.Id, ("fileName", medium.FileName));
        _json.WriteEndObject();
        _json.WriteEndObject();
        _json.WriteString("active_media_reference_key", "DEFAULT_MEDIA");
        _json.WriteEndObject();
    }

    /// <summary>The reference picture, by its name and place.</summary>
    private void Picture()
    {
        if (_session.Picture is not { } picture)
        {
            return;
        }

        var rate = _session.FrameRate.PerSecond.ToDouble();
        Begin("Track.1", "Picture");
        _json.WriteString("kind", "Video");
        Lists(true);
        _json.WriteStartArray("children");
        var before = Math.Max(0, picture.Start.Frames - _session.Start.Frames);
        if (before > 0)
        {
            Begin("Gap.1", string.Empty);
            Range("source_range", 0, before, rate);
            Lists(true);
            _json.WriteEndObject();
        }

        Begin("Clip.2", picture.FileName);
        Range("source_range", 0, Math.Max(1, picture.LengthFrames), rate);
        Lists(true);
        _json.WriteStartObject("media_references");
        _json.WriteStartObject("DEFAULT_MEDIA");
        Schema("ExternalReference.1");
        _json.WriteString("name", picture.FileName);
        _json.WriteString("target_url", Uri.EscapeDataString(picture.FileName));
        _json.WriteNull("available_range");
        _json.WriteNull("available_image_bounds");
        _json.WriteStartObject("metadata");
        _json.WriteEndObject();
        _json.WriteEndObject();
        _json.WriteEndObject();
        _json.WriteString("active_media_reference_key", "DEFAULT_MEDIA");
        _json.WriteEndObject();
        _json.WriteEndArray();
        _json.WriteEndObject();
    }

    private void Begin(string schema, string name)
    {
        _json.WriteStartObject();
        Schema(schema);
        _json.WriteString("name", name);
    }

    private void Schema(string schema) => _json.WriteString("OTIO_SCHEMA", schema);

    // What a container says of itself and we have nothing to say of.
    private void Empty()
    {
        _json.WriteNull("source_range");
        _json.WriteStartArray("effects");
        _json.WriteEndArray();
        _json.WriteBoolean("enabled", true);
        _json.WriteNull("color");
    }

    private void Lists(bool enabled, string? own = null, string? id = null)
    {
        _json.WriteStartArray("effects");
        _json.WriteEndArray();
        _json.WriteStartArray("markers");
        _json.WriteEndArray();
        _json.WriteBoolean("enabled", enabled);
        _json.WriteNull("color");
        if (own is null)
        {
            _json.WriteStartObject("metadata");
            _json.WriteEndObject();
        }
        else
        {
            OwnText(own, id!);
        }
    }

    private void OwnText(string key, string value, (string Key, string Value)? more = null) => OwnTexts((key, value), more ?? default);

    // Those that say something.
    private void OwnTexts(params ReadOnlySpan<(string Key, string Value)> texts)
    {
        _json.WriteStartObject("metadata");
        var any = false;
        foreach (var (key, value) in texts)
        {
            if (value is not { Length: > 0 })
            {
                continue;
            }

            if (!any)
            {
                _json.WriteStartObject(OtioNode.OwnKey);
                any = true;
            }

            _json.WriteString(key, value);
        }

        if (any)
        {
            _json.WriteEndObject();
        }

        _json.WriteEndObject();
    }

    private void Range(string property, long start, long duration, double rate)
    {
        _json.WriteStartObject(property);
        Schema("TimeRange.1");
        Time("start_time", start, rate);
        Time("duration", duration, rate);
        _json.WriteEndObject();
    }

    private void Time(string property, long value, double rate)
    {
        _json.WriteStartObject(property);
        Schema("RationalTime.1");
        _json.WriteNumber("value", (double)value);
        _json.WriteNumber("rate", rate);
        _json.WriteEndObject();
    }
}
