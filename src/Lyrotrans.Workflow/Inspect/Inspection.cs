using System.Security.Cryptography;
using System.Text.Json.Nodes;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Files;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.MarkerList;
using Lyrotrans.Formats.Midi;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Packing;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Inspect;

/// <summary>
/// The contents of a file as JSON with fixed keys: for sessions all positions in samples, for MIDI all positions in ticks, for
/// sound files the facts of the header and the hash of the samples alone.
/// </summary>
public static class Inspection
{
    /// <exception cref="BadInputException">It cannot be read.</exception>
    public static JsonObject Of(string path)
    {
        var name = Path.GetFileName(path);
        if (!File.Exists(path))
        {
            throw new BadInputException(FileCodes.Missing, path, string.Empty, "There is no such file.", "Check the path.");
        }

        using var stream = File.OpenRead(path);
        return ContentSniffer.Recognise(stream) switch
        {
            ContentKind.Midi => Midi(SmfReader.Read(stream, name), name),
            ContentKind.Zip => Zip(path, name),
            ContentKind.MarkerList => MarkerList(MarkerListReader.Read(stream, name), name),
            ContentKind.Session => Contents(SessionDocuments.Open(stream, name), path, name),
            _ => Sound(path, name),
        };
    }

    private static JsonObject Contents(ISessionDocument document, string path, string name) =>
        document is IEditDocument edits ? EditInspection.Of(edits, path, name) : SessionContents(document.ReadSession().Session, name);

    // A package of ours, or an archive as it would be brought in.
    private static JsonObject Zip(string path, string name)
    {
        try
        {
            using var package = PackageReader.Open(new DiskFile(path), name);
            return Package(package.Manifest, name);
        }
        catch (BadInputException problem) when (problem.Code == PackageCodes.NoManifest)
        {
            return new JsonObject
            {
                ["file"] = name,
                ["container"] = "zip",
                ["files"] = new JsonArray([.. SafeUnzip.List(path, name).Select(f => (JsonNode)new JsonObject { ["path"] = f.Path, ["bytes"] = f.Bytes })]),
            };
        }
    }

    private static JsonObject MarkerList(IReadOnlyList<MarkerRow> rows, string name) => new()
    {
        ["file"] = name,
        ["container"] = "marker list",
        ["markers"] = new JsonArray([.. rows.Select(r => (JsonNode)new JsonObject { ["line"] = r.Line, ["text"] = r.Text, ["start"] = Place(r.Start), ["end"] = r.End is { } end ? Place(end) : null })]),
    };

    private static JsonObject Place(MarkerPlace place) => new() { [place.Kind] = place.Text };

    private static JsonObject Package(Manifest manifest, string name)
    {
        return new JsonObject
        {
            ["file"] = name,
            ["session"] = manifest.SessionName,
            ["startTimecode"] = manifest.StartTimecode,
            ["rangeStart"] = manifest.RangeStart,
            ["rangeEnd"] = manifest.RangeEnd,
            ["files"] = new JsonArray([.. manifest.Files.Select(f => (JsonNode)new JsonObject { ["path"] = f.Plan.Path, ["bytes"] = f.Bytes, ["samples"] = f.Plan.Frames, ["sha256"] = f.Sha256 })]),
        };
    }

    private static JsonObject Midi(SmfFile file, string name)
    {
        var contents = SmfContents.Of(file);
        var json = new JsonObject { ["file"] = name, ["type"] = file.Type };
        if (file.TicksPerQuarter > 0)
        {
            json["ticksPerQuarter"] = file.TicksPerQuarter;
        }
        else
        {
            json["framesPerSecond"] = file.FramesPerSecond;
            json["ticksPerFrame"] = file.TicksPerFrame;
        }

        json["tempos"] = List(contents.Tempos, t => [t.Tick, t.Microseconds]);
        json["meters"] = List(contents.Meters, m => [m.Tick, m.Beats, m.BeatUnit]);
        json["keys"] = List(contents.Keys, k => [k.Tick, new KeyChange(0, k.Sharps, k.Minor).Name]);
        json["markers"] = List(contents.Markers, m => [m.Tick, m.Text]);
        json["cues"] = List(contents.Cues, m => [m.Tick, m.Text]);
        json["smpteOffset"] = contents.SmpteOffset.Count == 0 ? null : new JsonArray([.. contents.SmpteOffset.Select(v => JsonValue.Create(v))]);
        json["tracks"] = new JsonArray([.. contents.Tracks.Select(t => (JsonNode)Track(t))]);
        json["findings"] = Findings(contents.Findings);
        return json;
    }

    /// <summary>Findings as a list of objects with <c>code</c>, <c>place</c> and <c>text</c>.</summary>
    internal static JsonArray Findings(IEnumerable<Finding> findings) =>
        new([.. findings.Select(f => new JsonObject { ["code"] = f.Code.Id, ["place"] = f.Place, ["text"] = f.Text })]);

    private static JsonObject Track(SmfTrackContents track) => new JsonObject
    {
        ["name"] = track.Name,
        ["notes"] = List(track.Notes, n => [n.Tick, n.Length, n.Channel, n.Key, n.Velocity]),
        ["controllers"] = Controls(track, NoteControlKind.Controller, c => [c.Tick, c.Channel, c.Number, c.Value]),
        ["programs"] = Controls(track, NoteControlKind.Program, c => [c.Tick, c.Channel, c.Value]),
        ["pitchBends"] = Controls(track, NoteControlKind.PitchBend, c => [c.Tick, c.Channel, c.Value]),
        ["systemExclusive"] = Controls(track, NoteControlKind.SystemExclusive, c => [c.Tick, c.Bytes.TakeWhile(b => b != 0xF7).Count()]),
    };

    private static JsonArray Controls(SmfTrackContents track, NoteControlKind kind, Func<NoteControl, JsonArray> write) =>
        new([.. track.Controls.Where(c => c.Kind == kind).Select(c => (JsonNode)write(c))]);

    private static JsonArray List<T>(IEnumerable<T> items, Func<T, JsonArray> write) => new([.. items.Select(i => (JsonNode)write(i))]);

    /// <summary>A session's contents, positions in samples.</summary>
    public static JsonObject SessionContents(Session session, string name)
    {
        var media = session.Media.ToDictionary(m => m.Id);
        return new JsonObject
        {
            ["file"] = name,
            ["composition"] = session.Name,
            ["rate"] = session.Rate.PerSecond.ToDouble(),
            ["frameRate"] = Ratio(session.FrameRate.PerSecond),
            ["timecodeBase"] = session.FrameRate.Nominal,
            ["dropFrame"] = session.FrameRate.Drop,
            ["startFrames"] = session.Start.Frames,
            ["tracks"] = new JsonArray([.. session.Tracks.Select((t, i) => (JsonNode)TrackContents(t, i + 1, media))]),
            ["media"] = new JsonObject(session.Media.Select(m => KeyValuePair.Create<string, JsonNode?>(m.FileName, MediaContents(m)))),
            ["markers"] = new JsonArray([.. session.Markers.Select(m => (JsonNode)new JsonObject { ["position"] = m.Sample, ["length"] = m.Length, ["text"] = m.Text })]),
            ["picture"] = session.Picture?.FileName,
        };
    }

    private static JsonObject TrackContents(Track track, int number, Dictionary<string, Media> media) => new JsonObject
    {
        ["name"] = track.Name,
        ["number"] = number,
        ["kind"] = track.Kind.ToString().ToLowerInvariant(),
        ["length"] = track.Lanes.SelectMany(l => l.Clips).Select(c => c.End).DefaultIfEmpty(0).Max(),
        ["pan"] = (track.Pan + 1) / 2,
        ["clips"] = new JsonArray([.. (track.Sounding?.Clips ?? []).Select(c => (JsonNode)ClipContents(c, media[c.Media]))]),
        ["notes"] = track.Parts.Sum(p => p.Notes.Count),
        ["faderAutomation"] = Curve(track.FaderAutomation),
    };

    private static JsonObject ClipContents(Clip clip, Media media) => new JsonObject
    {
        ["media"] = media.FileName,
        ["channel"] = clip.ChannelMap.Count > 0 ? clip.ChannelMap[0] + 1 : 1,
        ["start"] = clip.Start,
        ["length"] = clip.Length,
        ["sourceOffset"] = clip.SourceOffset,
        ["gainDb"] = clip.GainDb,
        ["gainCurve"] = Curve(clip.GainCurve),
        ["fadeIn"] = FadeContents(clip.FadeIn),
        ["fadeOut"] = FadeContents(clip.FadeOut),
        ["muted"] = clip.Muted,
    };

    private static JsonObject? FadeContents(Fade fade) => fade.Length == 0
        ? null
        : new JsonObject { ["length"] = fade.Length, ["shape"] = DocumentWords.Of(DocumentWords.Shapes, fade.Shape) };

    private static JsonArray? Curve(Automation? automation) => automation is null
        ? null
        : List(automation.Points, p => [p.Sample, Decibels.ToRatio(p.Value)]);

    private static JsonObject MediaContents(Media media) => new()
    {
        ["name"] = media.FileName,
        ["rate"] = media.Rate.PerSecond.ToDouble(),
        ["channels"] = media.Channels,
        ["bits"] = media.Encoding.Bits(),
        ["float"] = media.Encoding.IsFloat(),
        ["length"] = media.Length,
        ["timeReference"] = media.TimeReference,
        ["how"] = media.Place.ToString().ToLowerInvariant(),
        ["sha256"] = media.Sha256,
    };

    private static JsonObject Sound(string path, string name)
    {
        using var file = SoundFile.Open(new DiskFile(path), name);
        var facts = file.Facts;
        return new JsonObject
        {
            ["file"] = name,
            ["container"] = facts.Container,
            ["rate"] = facts.SampleRate.PerSecond.ToDouble(),
            ["channels"] = facts.Channels,
            ["bits"] = facts.Encoding.Bits(),
            ["float"] = facts.Encoding.IsFloat(),
            ["length"] = facts.Frames,
            ["timeReference"] = facts.TimeReference,
            ["markers"] = new JsonArray([.. (file.Header?.Cues ?? []).Select(c => (JsonNode)new JsonObject { ["position"] = c.Sample, ["text"] = c.Label })]),
            ["info"] = new JsonArray([.. (file.Header?.Info ?? []).Select(i => (JsonNode)new JsonArray(i.Key, i.Value))]),
            ["sampleDataSha256"] = file.Header is { } header ? SampleHash(path, header.Layout) : null,
            ["findings"] = Findings(facts.Findings),
        };
    }

    private static string? SampleHash(string path, PcmLayout layout)
    {
        using var stream = File.OpenRead(path);
        return SampleHash(stream, layout);
    }

    /// <summary>The SHA-256 of a sound's samples alone, as little-endian bytes whatever the file has.</summary>
    internal static string SampleHash(Stream stream, PcmLayout layout)
    {
        using var hash = IncrementalHash.CreateHash(HashAlgorithmName.SHA256);
        stream.Position = layout.DataOffset;
        var sample = layout.Encoding.Bytes();
        var buffer = new byte[sample << 15];
        for (var left = layout.DataBytes; left > 0;)
        {
            var read = stream.ReadAtLeast(buffer.AsSpan(0, (int)Math.Min(buffer.Length, left)), (int)Math.Min(buffer.Length, left), throwOnEndOfStream: false);
            if (read == 0)
            {
                break;
            }

            // Comparable only as little-endian bytes.
            for (var at = 0; layout.BigEndian && at + sample <= read; at += sample)
            {
                buffer.AsSpan(at, sample).Reverse();
            }

            hash.AppendData(buffer, 0, read);
            left -= read;
        }

        return Convert.ToHexStringLower(hash.GetHashAndReset());
    }

    internal static string Ratio(Core.Time.Rational value) => $"{value.Numerator}/{value.Denominator}";
}
