using Lyrotrans.Core.Findings;
using Lyrotrans.Formats.Sessions;
using System.Text.Json;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Edits.Chains;

namespace Lyrotrans.Formats.Otio;

/// <summary>The media that clips refer to, by what they are referred to by.</summary>
/// <remarks>docs/formats/otio.md, section 3.</remarks>
internal sealed class OtioMedia(SampleRate rate, FindingList findings)
{
    private readonly EditMediaBook _book = new(findings);

    public IReadOnlyDictionary<string, DocumentMedia> Known => _book.Known;

    /// <summary>The reference of a clip that is in force: the active one of several, or the only one of an older document.</summary>
    public static JsonElement? ReferenceOf(JsonElement clip)
    {
        if (OtioNode.Get(clip, "media_references") is { } several)
        {
            return OtioNode.Get(several, OtioNode.Text(clip, "active_media_reference_key") ?? "DEFAULT_MEDIA");
        }

        return OtioNode.Get(clip, "media_reference");
    }

    /// <summary>The medium of a clip; null where it makes no sound of a file.</summary>
    public DocumentMedia? Of(JsonElement clip)
    {
        var reference = ReferenceOf(clip);
        var kind = reference is { } r ? OtioNode.Kind(r) : "MissingReference";
        if (kind == "GeneratorReference")
        {
            findings.Add(OtioCodes.Generator, OtioNode.Text(clip, "name") ?? string.Empty, $"{OtioNode.Text(clip, "name")}: its sound is made by a generator, which cannot be carried; it is silent.");
            return null;
        }

        var url = reference is { } element ? OtioNode.Text(element, "target_url") : null;
        var name = OtioNode.Text(clip, "name");
        var id = (reference is { } own ? OtioNode.OwnText(own, "media") : null) ?? url ?? $"missing {name}";
        if (_book.Find(id) is { } known)
        {
            return known;
        }

        var range = reference is { } described ? OtioRange.Of(described, "available_range") : null;
        var mediaRate = range is { } available && ChainRates.IsSampling(available.Duration.Rate) ? new SampleRate(available.Duration.Rate) : rate;
        var locator = EditMediaBook.NameIn(url);
        return _book.Add(new DocumentMedia
        {
            Id = id,
            FileName = (reference is { } said ? EditMediaBook.Clean(OtioNode.OwnText(said, "fileName")) : null) ?? locator ?? EditMediaBook.Clean(name) ?? "unknown",
            LocatorName = locator,
            Url = url,
            Rate = mediaRate,
            Length = range is { } length ? (length.Duration.Seconds * mediaRate.PerSecond).RoundToEven() : 0,
        });
    }
}
