using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Binary;
using System.Text.Json;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Formats.Otio;

/// <summary>An OTIO document: one timeline, or a collection of several.</summary>
/// <remarks>docs/formats/otio.md, sections 1 and 6.</remarks>
public sealed class OtioDocument : IEditDocument
{
    private const long LargestFile = 512L << 20;
    private const int DeepestJson = 400;
    private const int MostTracks = 4_000;
    private readonly string _name;
    private readonly List<JsonElement> _timelines;
    private EditComposition? _first;

    private OtioDocument(JsonElement root, string name)
    {
        _name = name;
        _timelines = OtioNode.Kind(root) switch
        {
            "Timeline" => [root],
            "SerializableCollection" => [.. OtioNode.List(root, "children").Where(c => OtioNode.Kind(c) == "Timeline")],
            var kind => throw new BadInputException(OtioCodes.NoTimeline, name, string.Empty, $"It is a {(kind.Length == 0 ? "JSON document" : kind)} and no timeline.", "Export the whole timeline."),
        };
        if (_timelines.Count == 0)
        {
            throw new BadInputException(OtioCodes.NoTimeline, name, string.Empty, "There is no timeline in it.", "Export the whole timeline.");
        }
    }

    /// <param name="stream">Read at once.</param>
    /// <param name="name">For errors.</param>
    /// <exception cref="BadInputException">Not JSON, or without a timeline.</exception>
    public static OtioDocument Open(Stream stream, string name)
    {
        if (stream.Length > LargestFile)
        {
            throw new BadInputException(FileCodes.TooLarge, name, string.Empty, $"It is {stream.Length} bytes; an OTIO document has at most {LargestFile}.", "Check what it is.");
        }

        return new OtioDocument(JsonInput.Parse(stream, name, DeepestJson).RootElement, name);
    }

    public IReadOnlyList<string> Compositions => [.. _timelines.Select(Name)];

    public Stream? OpenEssence(string id) => null;

    public EditComposition Read(string? composition = null) => composition is null ? _first ??= Make(null) : Make(composition);

    private EditComposition Make(string? composition)
    {
        var timeline = composition is null ? _timelines[0] : _timelines.Find(t => Name(t) == composition) is { ValueKind: JsonValueKind.Object } chosen ? chosen : _timelines[0];
        FindingList findings = [];
        var stack = OtioNode.Get(timeline, "tracks") ?? throw new BadInputException(OtioCodes.NoTimeline, _name, "tracks", "The timeline has no tracks.", "Export it again.");
        var own = Own(timeline, findings);
        var audio = OtioNode.List(stack, "children").Where(c => OtioNode.Kind(c) != "Track" || OtioTrack.IsAudio(c)).Take(MostTracks).ToList();
        var rates = audio.SelectMany(Times).ToList();
        var rate = own?.Rate ?? ChainRates.Commonest(rates.Select(r => (Rational?)r));
        var media = new OtioMedia(rate, findings);
        var reader = new OtioTrack(rate, media, findings, knowsCurves: own is not null);
        var tracks = new List<EditTrack>();
        foreach (var track in audio)
        {
            tracks.AddRange(reader.Tracks(track, tracks.Count + 1));
            reader.ItemMarkers.AddRange(reader.Markers(track, 0, 0));
        }

        var start = OtioTime.Of(timeline, "global_start_time");
        var frames = start is { Rate: var said } && FrameRate.All.FirstOrDefault(f => f.PerSecond == said) is { } known ? known : own?.FrameRate ?? FrameRate.Fps25;
        var editRate = rates.GroupBy(r => r).OrderByDescending(g => g.Count()).Select(g => g.Key).FirstOrDefault(rate.PerSecond);
        return new EditComposition
        {
            Name = Name(timeline),
            Rate = rate,
            EditRate = editRate,
            FrameRate = frames.PerSecond,
            TimecodeBase = frames.Nominal,
            DropFrame = own is not null && own.FrameRate.PerSecond == frames.PerSecond ? own.FrameRate.Drop : frames.Drop,
            StartFrames = start is { } at ? (at.Seconds * frames.PerSecond).RoundToEven() : 0,
            Tracks = tracks,
            Media = media.Known,
            Markers = [.. reader.Markers(stack, 0, 0).Concat(reader.ItemMarkers).OrderBy(m => m.Place)],
            Picture = Picture(stack, rate),
            Others = [.. Compositions.Where(c => c != Name(timeline))],
            Comments = Comments(timeline),
            Own = own,
            KnowsChannels = own is not null,
            Findings = [.. ChainRates.Coarse(editRate, rate), .. findings],
        };
    }

    /// <summary>The items of each audio track of the first timeline, as the document has them: in samples, clips up to their cuts.</summary>
    public IReadOnlyList<(string Name, IReadOnlyList<EditItem> Items)> Outline
    {
        get
        {
            var rate = Read().Rate;
            var reader = new OtioTrack(rate, new OtioMedia(rate, []), [], knowsCurves: false);
            return [.. OtioNode.List(OtioNode.Get(_timelines[0], "tracks")!.Value, "children").Where(OtioTrack.IsAudio).Select(t => (OtioNode.Text(t, "name") ?? string.Empty, reader.Items(t)))];
        }
    }

    private static string Name(JsonElement timeline) => OtioNode.Text(timeline, "name") is { Length: > 0 } name ? name : "unnamed";

    /// <summary>The rates of all times of clips and gaps, and of the media below them.</summary>
    private static IEnumerable<Rational> Times(JsonElement item)
    {
        var children = new Stack<JsonElement>([item]);
        while (children.TryPop(out var at))
        {
            if (OtioRange.Of(at, "source_range") is { } range)
            {
                yield return range.Duration.Rate;
            }

            if (OtioMedia.ReferenceOf(at) is { } reference && OtioRange.Of(reference, "available_range") is { } available)
            {
                yield return available.Duration.Rate;
            }

            foreach (var child in OtioNode.List(at, "children"))
            {
                children.Push(child);
            }
        }
    }

    private static (string Name, Rational Start, long LengthFrames)? Picture(JsonElement stack, SampleRate rate)
    {
        foreach (var track in OtioNode.List(stack, "children").Where(c => OtioNode.Kind(c) == "Track" && !OtioTrack.IsAudio(c)))
        {
            Rational at = 0;
            foreach (var item in OtioNode.List(track, "children"))
            {
                if (OtioRange.Of(item, "source_range") is not { } range)
                {
                    continue;
                }

                if (OtioMedia.ReferenceOf(item) is { } reference && (EditMediaBook.NameIn(OtioNode.Text(reference, "target_url")) ?? OtioNode.Text(item, "name")) is { Length: > 0 } name)
                {
                    return (name, at * rate.PerSecond, (long)range.Duration.Value.Floor());
                }

                at += range.Duration.Seconds;
            }
        }

        return null;
    }

    private static Dictionary<string, string> Comments(JsonElement timeline)
    {
        var comments = new Dictionary<string, string>();
        if (OtioNode.Own(timeline) is { } own && OtioNode.Get(own, "comments") is { ValueKind: JsonValueKind.Object } list)
        {
            foreach (var comment in list.EnumerateObject().Where(c => c.Value.ValueKind == JsonValueKind.String))
            {
                if ((JsonInput.NameOf(comment), JsonInput.TextOf(comment.Value)) is ({ } said, { } text))
                {
                    comments[said] = text;
                }
            }
        }

        return comments;
    }

    // What we wrote of a session and OTIO has no place for. It is worth no more than a hint: without it the timeline stands for itself.
    private Session? Own(JsonElement timeline, FindingList findings)
    {
        if (OtioNode.Own(timeline) is not { } own || OtioNode.Get(own, "session") is not { } document)
        {
            return null;
        }

        try
        {
            return SessionDocumentReader.Read(document, _name);
        }
        catch (BadInputException problem)
        {
            findings.Add(OtioCodes.OwnUnreadable, problem.Where, $"What its metadata say of fades, gain and the rest cannot be read: {problem.Message}");
            return null;
        }
    }
}
