using System.Text.Json.Nodes;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Sessions;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Inspect;

/// <summary>A composition of a chain format as JSON with fixed keys, all places in samples; fractions where a unit is no whole number of them.</summary>
internal static class EditInspection
{
    /// <param name="document">What was opened.</param>
    /// <param name="path">Of the file; linked media are looked for beside it.</param>
    /// <param name="name">Of the file.</param>
    public static JsonObject Of(IEditDocument document, string path, string name)
    {
        var json = Composition(document.Read(), path, name, document.OpenEssence);
        if (document.Outline is not { } outline)
        {
            return json;
        }

        json["title"] = json["composition"]!.DeepClone();
        foreach (var (track, items) in json["tracks"]!.AsArray().Zip(outline))
        {
            track!["items"] = List(items.Items.Select(Item));
        }

        return json;
    }

    private static JsonObject Composition(EditComposition composition, string path, string name, Func<string, Stream?> essence)
    {
        var json = new JsonObject
        {
            ["file"] = name,
            ["composition"] = composition.Name,
            ["rate"] = Number(composition.Rate.PerSecond),
            ["editRate"] = Inspection.Ratio(composition.EditRate),
            ["frameRate"] = Inspection.Ratio(composition.FrameRate),
            ["timecodeBase"] = composition.TimecodeBase,
            ["dropFrame"] = composition.DropFrame,
            ["startFrames"] = composition.StartFrames,
            ["tracks"] = List(composition.Tracks.Select(t => Track(t, composition))),
            ["media"] = new JsonObject(composition.Media.Values.DistinctBy(m => m.FileName).Select(m => KeyValuePair.Create(m.FileName, (JsonNode?)Media(m, path, essence)))),
            ["markers"] = List(composition.Markers.Select(Marker)),
        };
        if (composition.Picture is { } picture)
        {
            json["picture"] = new JsonObject { ["name"] = picture.Name, ["start"] = Number(picture.Start), ["lengthFrames"] = picture.LengthFrames };
        }

        foreach (var (fact, value) in composition.Facts)
        {
            json[fact] = int.TryParse(value, out var number) ? number : value;
        }

        json["otherCompositions"] = new JsonArray([.. composition.Others.Select(o => JsonValue.Create(o))]);
        json["comments"] = new JsonObject(composition.Comments.Select(c => KeyValuePair.Create(c.Key, (JsonNode?)JsonValue.Create(c.Value))));
        json["findings"] = Inspection.Findings(composition.Findings);
        return json;
    }

    private static JsonObject Item(EditItem item) => item.SourceOffset is { } offset
        ? new() { ["media"] = item.Media, ["start"] = Number(item.Start), ["length"] = Number(item.Length), ["sourceOffset"] = Number(offset) }
        : new() { ["transition"] = new JsonArray(Number(item.Start), Number(item.Length)) };

    private static JsonObject Track(EditTrack track, EditComposition composition) => new()
    {
        ["name"] = track.Name.Length == 0 ? null : track.Name,
        ["number"] = track.Number,
        ["length"] = Number(track.Length),
        ["pan"] = track.Pan,
        ["clips"] = List(track.Clips.Select(c => Clip(c, composition))),
        ["faderDb"] = Decibels.FromRatio(track.Fader),
        ["faderAutomation"] = Points(track.FaderAutomation.Points),
        ["panAutomation"] = Points(track.PanAutomation.Points),
    };

    private static JsonObject Clip(EditClip clip, EditComposition composition)
    {
        var json = new JsonObject
        {
            ["media"] = composition.Media[clip.Media].FileName,
            ["channel"] = clip.Channel,
            ["start"] = Number(clip.Start),
            ["length"] = Number(clip.Length),
            ["sourceOffset"] = Number(clip.SourceOffset),
            ["gainDb"] = Decibels.FromRatio(clip.Gain),
            ["gainCurve"] = Points(clip.GainCurve.Points),
            ["fadeIn"] = Fade(clip.FadeIn),
            ["fadeOut"] = Fade(clip.FadeOut),
            ["muted"] = clip.Muted,
        };
        var media = composition.Media[clip.Media];
        if (media.Rate != composition.Rate)
        {
            json["sourceOffsetRate"] = Number(media.Rate.PerSecond);
        }

        if (clip.Alternates.Count > 0)
        {
            json["alternates"] = List(clip.Alternates.Select(a => new JsonObject { ["media"] = composition.Media[a.Media].FileName, ["sourceOffset"] = Number(a.SourceOffset), ["length"] = Number(a.Length) }));
        }

        return json;
    }

    private static JsonObject Marker(EditMarker marker)
    {
        var json = new JsonObject { ["position"] = Number(marker.Place), ["text"] = marker.Text };
        if (marker.Length.Sign > 0)
        {
            json["length"] = Number(marker.Length);
        }

        if (marker.By.Length > 0)
        {
            json["by"] = marker.By;
        }

        if (marker.Date.Length > 0)
        {
            json["date"] = marker.Date;
        }

        return json;
    }

    private static JsonObject? Fade(EditFade? fade) => fade is null
        ? null
        : new JsonObject { ["length"] = Number(fade.Length), ["shape"] = DocumentWords.Of(DocumentWords.Shapes, fade.Shape) };

    private static JsonObject Media(DocumentMedia media, string path, Func<string, Stream?> essence)
    {
        if (!media.IsEmbedded && ContainerInspection.PathOf(media, Path.GetDirectoryName(Path.GetFullPath(path))!) is { } container)
        {
            return ContainerInspection.Of(media, container);
        }

        var (facts, hash) = media.IsEmbedded ? (null, EssenceHash(media, essence)) : Beside(media, path);
        return new JsonObject
        {
            ["name"] = media.FileName,
            ["rate"] = Number(facts?.SampleRate.PerSecond ?? media.Rate.PerSecond),
            ["channels"] = facts?.Channels ?? media.Channels,
            ["bits"] = facts?.Encoding.Bits() ?? media.Bits,
            ["float"] = facts?.Encoding.IsFloat() ?? media.IsFloat,
            ["length"] = facts?.Frames ?? media.Length,
            ["timeReference"] = facts is null ? media.TimeReference : facts.TimeReference,
            ["how"] = media.How,
            ["sampleDataSha256"] = hash,
            ["url"] = media.Url,
        };
    }

    private static (SoundFileFacts? Facts, string? Hash) Beside(DocumentMedia media, string path)
    {
        var folder = Path.GetDirectoryName(Path.GetFullPath(path))!;
        var found = new[] { media.FileName, media.LocatorName }.OfType<string>().Select(n => Path.Combine(folder, n)).FirstOrDefault(File.Exists);
        if (found is null)
        {
            return (null, null);
        }

        using var file = SoundFile.Open(new DiskFile(found), media.FileName);
        using var stream = File.OpenRead(found);
        return (file.Facts, file.Header is { } header ? Inspection.SampleHash(stream, header.Layout) : null);
    }

    private static string? EssenceHash(DocumentMedia media, Func<string, Stream?> essence)
    {
        if (essence(media.Id) is not { } stream)
        {
            return null;
        }

        using (stream)
        {
            return media.How switch
            {
                "embedded-wave" or "embedded-aifc" => Inspection.SampleHash(stream, LinearSound.Read(stream, media.FileName)!.Layout),
                _ => Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(stream)),
            };
        }
    }

    private static JsonArray? Points(IReadOnlyList<EditPoint> points) =>
        points.Count == 0 ? null : new JsonArray([.. points.Select(p => (JsonNode)new JsonArray(Number(p.Place), p.Value))]);

    private static JsonArray List(IEnumerable<JsonObject> items) => new([.. items.Select(i => (JsonNode)i)]);

    /// <summary>A whole number where it is one.</summary>
    public static JsonValue Number(Rational value) => value.Denominator.IsOne ? JsonValue.Create((long)value.Numerator) : JsonValue.Create(value.ToDouble());
}
