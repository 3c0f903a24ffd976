using System.Buffers;
using System.Globalization;
using System.Text;
using System.Text.Encodings.Web;
using System.Text.Json;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using static Lyrotrans.Formats.OpenSession.DocumentWords;

namespace Lyrotrans.Formats.OpenSession;

/// <summary>Writes a session as its open document: UTF-8 JSON, the same bytes for equal sessions. Values at their default are left out.</summary>
public sealed class SessionDocumentWriter
{
    private static readonly JsonWriterOptions s_options = new() { Indented = true, NewLine = "\n", Encoder = JavaScriptEncoder.UnsafeRelaxedJsonEscaping };
    private readonly Utf8JsonWriter _json;

    private SessionDocumentWriter(Utf8JsonWriter json) => _json = json;

    /// <summary>A session as UTF-8 JSON; the same session gives the same bytes.</summary>
    public static byte[] Write(Session session)
    {
        var output = new ArrayBufferWriter<byte>();
        using (var json = new Utf8JsonWriter(output, s_options))
        {
            new SessionDocumentWriter(json).WriteSession(session);
        }

        return output.WrittenSpan.ToArray();
    }

    // The oldest that can say it, so that older readers take what they can.
    private static int VersionOf(Session session) =>
        session.Media.Any(m => m.Delivery is not null || m.Place == MediaPlace.Unsent) || session.Tracks.Any(t => t.Holds != default) ? SessionDocument.FirstDeliveries :
        session.Picture is { FramesPerSecond: not null } or { Bytes: > 0 } or { SoundChannels: > 0 } ? SessionDocument.FirstPictures :
        session.Tracks.Any(t => t.Note.Length > 0 || t.Lanes.Any(l => l.Clips.Any(c => c.Note.Length > 0))) ? SessionDocument.FirstNotes
        : session.Tracks.Any(t => t.Kind.HasRole() || t.Of.Count > 0) ? SessionDocument.FirstRoles
        : session.Markers.Any(m => m.By.Length > 0 || m.Date.Length > 0) ? SessionDocument.FirstMarkedBy
        : session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Any(c => c.FadeIn.Places.Count > 0 || c.FadeOut.Places.Count > 0) ? SessionDocument.FirstPlaced
        : session.Media.Any(m => m.RateDeclared) ? SessionDocument.FirstDeclared
        : SessionDocument.FirstDeclared - 1;

    private void WriteSession(Session session)
    {
        _json.WriteStartObject();
        _json.WriteNumber(SessionDocument.VersionProperty, VersionOf(session));
        _json.WriteString("name", session.Name);
        _json.WriteString("rate", session.Rate.PerSecond.ToString());
        _json.WriteString("depth", Of(Encodings, session.Depth));
        _json.WriteString("frameRate", session.FrameRate.Name);
        _json.WriteString("start", session.Start.ToString());
        _json.WriteNumber("bar1", session.Bar1Sample);
        if (session.PanLaw != default)
        {
            _json.WriteString("panLaw", Of(PanLaws, session.PanLaw));
        }

        WriteMusic(session);
        List("markers", session.Markers, m =>
        {
            _json.WriteString("id", m.Id);
            _json.WriteString("text", m.Text);
            _json.WriteNumber("sample", m.Sample);
            Unless(0, "length", m.Length);
            Unless(string.Empty, "by", m.By);
            Unless(string.Empty, "date", m.Date);
        });
        List("media", session.Media, WriteMedia);
        List("tracks", session.Tracks, WriteTrack);
        if (session.Picture is { } picture)
        {
            _json.WriteStartObject("picture");
            _json.WriteString("fileName", picture.FileName);
            _json.WriteString("frameRate", picture.Start.Rate.Name);
            _json.WriteString("start", picture.Start.ToString());
            Unless(0, "lengthFrames", picture.LengthFrames);
            Unless(null, "sha256", picture.Sha256);
            Unless(null, "framesPerSecond", picture.FramesPerSecond?.ToString());
            Unless(0, "soundChannels", picture.SoundChannels);
            Unless(0, "bytes", picture.Bytes);
            _json.WriteEndObject();
        }

        List("comments", session.Comments, c =>
        {
            _json.WriteString("name", c.Name);
            _json.WriteString("text", c.Text);
        });
        List("provenance", session.Provenance, p =>
        {
            _json.WriteString("source", p.Source);
            _json.WriteString("took", p.Took);
        });
        _json.WriteEndObject();
    }

    private void WriteMusic(Session session)
    {
        List("tempo", session.Tempo.Points, p =>
        {
            _json.WriteString("quarter", p.Quarter.ToString());
            _json.WriteString("quartersPerMinute", p.QuartersPerMinute.ToString());
            Unless(false, "ramp", p.Ramp);
        });
        List("meters", session.Meters.Changes, m =>
        {
            _json.WriteNumber("bar", m.Bar);
            _json.WriteNumber("beats", m.Beats);
            _json.WriteNumber("beatUnit", m.BeatUnit);
        });
        List("keys", session.Keys, k =>
        {
            _json.WriteString("quarter", k.Quarter.ToString());
            _json.WriteNumber("sharps", k.Sharps);
            Unless(false, "minor", k.Minor);
        });
    }

    private void WriteMedia(Media media)
    {
        _json.WriteString("id", media.Id);
        _json.WriteString("fileName", media.FileName);
        _json.WriteString("rate", media.Rate.PerSecond.ToString());
        Unless(false, "rateDeclared", media.RateDeclared);
        _json.WriteString("encoding", Of(Encodings, media.Encoding));
        _json.WriteNumber("channels", media.Channels);
        _json.WriteNumber("length", media.Length);
        if (media.TimeReference is { } stamp)
        {
            _json.WriteNumber("timeReference", stamp);
        }

        _json.WriteString("place", Of(Places, media.Place));
        Unless(null, "delivery", media.Delivery);
        Unless(null, "sha256", media.Sha256);
        Texts("identifiers", media.Identifiers);
    }

    private void WriteTrack(Track track)
    {
        _json.WriteString("id", track.Id);
        _json.WriteString("name", track.Name);
        _json.WriteString("kind", Of(Kinds, track.Kind));
        _json.WriteNumber("channels", track.Channels);
        Texts("of", track.Of);
        if (track.Holds != default)
        {
            _json.WriteString("holds", Of(Holds, track.Holds));
        }

        if (track.State != TrackState.Active)
        {
            _json.WriteString("state", Of(States, track.State));
        }

        Unless(false, "soloed", track.Soloed);
        Unless(0.0, "faderDb", track.FaderDb);
        WriteAutomation("faderAutomation", track.FaderAutomation);
        Unless(0.0, "pan", track.Pan);
        Unless(false, "inverted", track.Inverted);
        WriteAutomation("panAutomation", track.PanAutomation);
        Unless(null, "output", track.Output);
        List("sends", track.Sends, s =>
        {
            _json.WriteString("target", s.Target);
            _json.WriteNumber("levelDb", s.LevelDb);
            Unless(false, "preFader", s.PreFader);
            Unless(0.0, "pan", s.Pan);
            WriteAutomation("levelAutomation", s.LevelAutomation);
        });
        List("inserts", track.Inserts, i =>
        {
            _json.WriteString("effect", i.Effect);
            List("parameters", i.Parameters, p =>
            {
                _json.WriteString("name", p.Name);
                _json.WriteNumber("value", p.Value);
            });
            Unless(false, "bypassed", i.Bypassed);
            Unless(0, "latency", i.Latency);
        });
        List("lanes", track.Lanes, l =>
        {
            _json.WriteString("name", l.Name);
            List("clips", l.Clips, WriteClip);
        });
        Unless(0, "soundingLane", track.SoundingLane);
        List("parts", track.Parts, WritePart);
        Unless(string.Empty, "note", track.Note);
    }

    private void WriteClip(Clip clip)
    {
        _json.WriteString("id", clip.Id);
        _json.WriteString("name", clip.Name);
        _json.WriteString("media", clip.Media);
        Raw("channelMap", clip.ChannelMap, c => c.ToString(CultureInfo.InvariantCulture), brackets: false);
        _json.WriteNumber("start", clip.Start);
        _json.WriteNumber("length", clip.Length);
        _json.WriteNumber("sourceOffset", clip.SourceOffset);
        Unless(0.0, "gainDb", clip.GainDb);
        WriteAutomation("gainCurve", clip.GainCurve);
        WriteFade("fadeIn", clip.FadeIn);
        WriteFade("fadeOut", clip.FadeOut);
        Unless(false, "muted", clip.Muted);
        Unless(string.Empty, "note", clip.Note);
        Unless(null, "source", clip.Source);
    }

    private void WritePart(NotePart part)
    {
        _json.WriteString("id", part.Id);
        _json.WriteString("name", part.Name);
        _json.WriteString("startQuarter", part.StartQuarter.ToString());
        _json.WriteString("lengthQuarters", part.LengthQuarters.ToString());
        _json.WriteNumber("ticksPerQuarter", part.TicksPerQuarter);
        Unless(false, "muted", part.Muted);
        Raw("notes", part.Notes, n => string.Create(
            CultureInfo.InvariantCulture, $"{n.Tick}, {n.Length}, {n.Channel}, {n.Key}, {n.Velocity}, {n.ReleaseVelocity}"));
        List("controls", part.Controls, c =>
        {
            _json.WriteNumber("tick", c.Tick);
            _json.WriteString("kind", Of(Controls, c.Kind));
            _json.WriteNumber("channel", c.Channel);
            Unless(0, "number", c.Number);
            Unless(0, "value", c.Value);
            if (c.Bytes.Count > 0)
            {
                _json.WriteString("bytes", Convert.ToHexString(c.Bytes.AsSpan()));
            }
        });
    }

    private void WriteFade(string name, Fade fade)
    {
        if (fade == Fade.None)
        {
            return;
        }

        _json.WriteStartObject(name);
        _json.WriteNumber("length", fade.Length);
        _json.WriteString("shape", Of(Shapes, fade.Shape));
        Raw("curve", fade.Curve, Double, brackets: false);
        Raw("places", fade.Places, Double, brackets: false);
        _json.WriteEndObject();
    }

    private void WriteAutomation(string name, Automation? automation)
    {
        if (automation is null)
        {
            return;
        }

        _json.WriteStartObject(name);
        if (automation.Interpolation != Interpolation.Linear)
        {
            _json.WriteString("interpolation", Of(Interpolations, automation.Interpolation));
        }

        Raw("points", automation.Points, p => string.Create(CultureInfo.InvariantCulture, $"{p.Sample}, {Double(p.Value)}"), always: true);
        _json.WriteEndObject();
    }

    private static string Double(double value) => value.ToString("R", CultureInfo.InvariantCulture);

    private void List<T>(string name, IReadOnlyList<T> items, Action<T> write)
    {
        if (items.Count == 0)
        {
            return;
        }

        _json.WriteStartArray(name);
        foreach (var item in items)
        {
            _json.WriteStartObject();
            write(item);
            _json.WriteEndObject();
        }

        _json.WriteEndArray();
    }

    // Long lists of numbers stay on one line: a document is read by people too.
    private void Raw<T>(string name, IReadOnlyList<T> items, Func<T, string> write, bool brackets = true, bool always = false)
    {
        if (items.Count == 0 && !always)
        {
            return;
        }

        var text = new StringBuilder("[");
        for (var i = 0; i < items.Count; i++)
        {
            text.Append(i > 0 ? ", " : string.Empty).Append(brackets ? "[" : string.Empty).Append(write(items[i])).Append(brackets ? "]" : string.Empty);
        }

        _json.WritePropertyName(name);
        _json.WriteRawValue(text.Append(']').ToString());
    }

    private void Texts(string name, ValueArray<string> texts)
    {
        if (texts.Count == 0)
        {
            return;
        }

        _json.WriteStartArray(name);
        foreach (var text in texts)
        {
            _json.WriteStringValue(text);
        }

        _json.WriteEndArray();
    }

    private void Unless(bool usual, string name, bool value)
    {
        if (value != usual)
        {
            _json.WriteBoolean(name, value);
        }
    }

    private void Unless(double usual, string name, double value)
    {
        if (value != usual)
        {
            _json.WriteNumber(name, value);
        }
    }

    private void Unless(long usual, string name, long value)
    {
        if (value != usual)
        {
            _json.WriteNumber(name, value);
        }
    }

    private void Unless(string? usual, string name, string? value)
    {
        if (value != usual)
        {
            _json.WriteString(name, value);
        }
    }
}
