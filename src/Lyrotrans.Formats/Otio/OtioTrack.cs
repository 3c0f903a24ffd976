using System.Text.Json;
using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;

namespace Lyrotrans.Formats.Otio;

/// <summary>
/// Evaluates tracks and stacks to clips at their places. A stack inside a track sounds together: its layers after the first lie on tracks of their own, since clips
/// of one track do not sound at once.
/// </summary>
/// <remarks>docs/formats/otio.md, sections 1, 4 and 5.</remarks>
internal sealed class OtioTrack(SampleRate rate, OtioMedia media, FindingList findings, bool knowsCurves)
{
    private const int Deepest = 100;
    private const int MostItems = 2_000_000;
    private int _visited;

    /// <summary>A track of the timeline, and one for each further layer that lies inside it.</summary>
    public IEnumerable<EditTrack> Tracks(JsonElement track, int number)
    {
        var (layers, length) = Evaluate(track, 0);
        var name = OtioNode.Text(track, "name") ?? string.Empty;
        var muted = !OtioNode.Truth(track, "enabled", true);
        return layers.Select((clips, layer) => new EditTrack
        {
            Id = layer == 0 ? OtioNode.OwnText(track, "track") : null,
            Name = layer == 0 ? name : $"{name}, layer {layer + 1}",
            Number = number + layer,
            Length = length,
            Clips = [.. clips.Select(c => muted ? c with { Muted = true } : c).OrderBy(c => c.Start)],
        });
    }

    /// <summary>The items of a track as the document has them, one after the other.</summary>
    public IReadOnlyList<EditItem> Items(JsonElement track)
    {
        var items = new List<EditItem>();
        Rational at = 0;
        foreach (var child in OtioNode.List(track, "children"))
        {
            if (OtioNode.Kind(child) == "Transition")
            {
                var (into, away) = (OtioTime.Of(child, "in_offset") is { } i ? Samples(i) : 0, OtioTime.Of(child, "out_offset") is { } o ? Samples(o) : 0);
                items.Add(new EditItem(null, at - into, into + away, null));
                continue;
            }

            var (layers, length) = Evaluate(child, 0);
            items.AddRange(layers.SelectMany(l => l).Select(c => new EditItem(media.Known[c.Media].Url, at + c.Start, c.Length, c.SourceOffset * rate.PerSecond / media.Known[c.Media].Rate.PerSecond)));
            at += length;
        }

        return items;
    }

    /// <summary>The markers on a track and on what lies in it, at their places on the timeline.</summary>
    public IEnumerable<EditMarker> Markers(JsonElement holder, Rational offset, Rational sourceStart) =>
        OtioNode.List(holder, "markers").Select(m => OtioRange.Of(m, "marked_range") is { } range
            ? new EditMarker(offset + Samples(range.Start) - sourceStart, Samples(range.Duration), MarkerText(m), OtioNode.OwnText(m, "by") ?? string.Empty, OtioNode.OwnText(m, "date") ?? string.Empty)
            : new EditMarker(Rational.Zero, Rational.Zero, string.Empty)).Where(m => m.Text.Length > 0);

    public List<EditMarker> ItemMarkers { get; } = [];

    private static string MarkerText(JsonElement marker)
    {
        var (name, comment) = (OtioNode.Text(marker, "name") ?? string.Empty, OtioNode.Text(marker, "comment") ?? string.Empty);
        return name.Length == 0 ? comment : comment.Length == 0 || comment == name ? name : $"{name}: {comment}";
    }

    private Rational Samples(OtioTime time) => time.Seconds * rate.PerSecond;

    private (List<List<EditClip>> Layers, Rational Length) Evaluate(JsonElement item, int depth)
    {
        if (depth > Deepest || ++_visited > MostItems)
        {
            findings.Add(EditCodes.TooDeep, string.Empty, $"Tracks and stacks are nested deeper than {Deepest}, or are more than a session has; what lies below was left out.");
            return ([[]], 0);
        }

        var (layers, length) = OtioNode.Kind(item) switch
        {
            "Clip" => Clip(item),
            "Track" => Track(item, depth),
            "Stack" => Stack(item, depth),
            _ => ([[]], OtioRange.Of(item, "source_range") is { } gap ? Samples(gap.Duration) : 0),
        };
        Effects(item);
        return OtioNode.Kind(item) is "Track" or "Stack" && OtioRange.Of(item, "source_range") is { } range
            ? ([.. layers.Select(l => Cut(l, Samples(range.Start), Samples(range.Duration)))], Samples(range.Duration))
            : (layers, length);
    }

    private void Effects(JsonElement item)
    {
        foreach (var effect in OtioNode.List(item, "effects"))
        {
            var kind = OtioNode.Kind(effect);
            var scalar = OtioNode.Number(effect, "time_scalar");
            if (kind != "LinearTimeWarp" || scalar != 1)
            {
                var what = kind == "LinearTimeWarp" && scalar is { } speed ? FormattableString.Invariant($"a speed of {speed}") : OtioNode.Text(effect, "effect_name") is { Length: > 0 } said ? said : OtioNode.Text(effect, "name") is { Length: > 0 } own ? own : kind;
                findings.Add(EditCodes.Operation, OtioNode.Text(item, "name") ?? string.Empty, $"{OtioNode.Text(item, "name")} has an effect that cannot be carried ({what}); its sound goes without it.");
            }
        }
    }

    private (List<List<EditClip>>, Rational) Clip(JsonElement clip)
    {
        var reference = OtioMedia.ReferenceOf(clip);
        var available = reference is { } r ? OtioRange.Of(r, "available_range") : null;
        if ((OtioRange.Of(clip, "source_range") ?? available) is not { } range)
        {
            findings.Add(OtioCodes.NoLength, OtioNode.Text(clip, "name") ?? string.Empty, $"{OtioNode.Text(clip, "name")} says no length; it was left out.");
            return ([[]], 0);
        }

        var length = Samples(range.Duration);
        if (media.Of(clip) is not { } known)
        {
            return ([[]], length);
        }

        var offset = range.Start.Seconds - (available?.Start.Seconds ?? 0);
        return ([[new EditClip
        {
            Id = OtioNode.OwnText(clip, "clip"),
            Media = known.Id,
            Name = OtioNode.Text(clip, "name"),
            Channel = 0,
            Length = length,
            SourceOffset = offset * known.Rate.PerSecond,
            Muted = !OtioNode.Truth(clip, "enabled", true),
        }]], length);
    }

    private (List<List<EditClip>>, Rational) Stack(JsonElement stack, int depth)
    {
        var children = OtioNode.List(stack, "children").Where(c => OtioNode.Kind(c) != "Track" || IsAudio(c)).Select(c => Evaluate(c, depth + 1)).ToList();
        return (children.Count == 0 ? [[]] : [.. children.SelectMany(c => c.Layers)], children.Count == 0 ? 0 : children.Max(c => c.Length));
    }

    public static bool IsAudio(JsonElement track) => !string.Equals(OtioNode.Text(track, "kind"), "Video", StringComparison.OrdinalIgnoreCase);

    // Items follow one another; a transition takes sound from beyond the cut on both of its sides.
    private (List<List<EditClip>>, Rational) Track(JsonElement track, int depth)
    {
        List<List<EditClip>> layers = [[]];
        Rational at = 0;
        var pending = default((Rational In, Rational Out)?);
        var sounds = false;
        foreach (var child in OtioNode.List(track, "children"))
        {
            if (OtioNode.Kind(child) == "Transition")
            {
                var (into, away) = (OtioTime.Of(child, "in_offset"), OtioTime.Of(child, "out_offset"));
                pending = (into is { Value.Sign: > 0 } i ? Samples(i) : 0, away is { Value.Sign: > 0 } o ? Samples(o) : 0);
                if (sounds)
                {
                    FadeOut(layers[0], at, pending.Value);
                }

                continue;
            }

            var (inside, length) = Evaluate(child, depth + 1);
            for (var layer = 0; layer < inside.Count; layer++)
            {
                if (layers.Count <= layer)
                {
                    layers.Add([]);
                }

                layers[layer].AddRange(inside[layer].Select(c => FadedIn(c with { Start = c.Start + at }, at, pending)));
            }

            if (OtioNode.Kind(child) is "Clip" or "Gap" && OtioRange.Of(child, "source_range") is { } range)
            {
                ItemMarkers.AddRange(Markers(child, at, Samples(range.Start)));
            }

            at += length;
            pending = null;
            sounds = OtioNode.Kind(child) != "Gap";
        }

        return (layers, at);
    }

    private void FadeOut(List<EditClip> clips, Rational cut, (Rational In, Rational Out) transition)
    {
        if (clips.Count > 0 && clips[^1].End == cut && (transition.In + transition.Out).Sign > 0)
        {
            if (!knowsCurves)
            {
                findings.Add(EditCodes.FadeCurve, string.Empty, "Transitions do not say their curve; they are taken as linear.");
            }

            clips[^1] = clips[^1] with { Length = clips[^1].Length + transition.Out, FadeOut = new EditFade(transition.In + transition.Out, FadeShape.Linear) };
        }
    }

    private EditClip FadedIn(EditClip clip, Rational cut, (Rational In, Rational Out)? transition)
    {
        if (transition is not { } fades || clip.Start != cut || (fades.In + fades.Out).Sign == 0)
        {
            return clip;
        }

        var ratio = media.Known[clip.Media].Rate.PerSecond / rate.PerSecond;
        var before = fades.In;
        if (clip.SourceOffset < before * ratio)
        {
            findings.Add(OtioCodes.ShortTransition, clip.Name ?? string.Empty, $"{clip.Name}: its medium is too short for its transition, which begins later.");
            before = clip.SourceOffset / ratio;
        }

        return clip with
        {
            Start = clip.Start - before,
            Length = clip.Length + before,
            SourceOffset = clip.SourceOffset - (before * ratio),
            FadeIn = new EditFade(before + fades.Out, FadeShape.Linear),
        };
    }

    private List<EditClip> Cut(List<EditClip> clips, Rational from, Rational length)
    {
        var cut = new List<EditClip>();
        foreach (var clip in clips)
        {
            var start = clip.Start > from ? clip.Start : from;
            var end = clip.End < from + length ? clip.End : from + length;
            if (end > start)
            {
                cut.Add(clip with
                {
                    Start = start - from,
                    Length = end - start,
                    SourceOffset = clip.SourceOffset + ((start - clip.Start) * media.Known[clip.Media].Rate.PerSecond / rate.PerSecond),
                    FadeIn = start == clip.Start ? clip.FadeIn : null,
                    FadeOut = end == clip.End ? clip.FadeOut : null,
                });
            }
        }

        return cut;
    }
}
