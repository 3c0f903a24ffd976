using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Aaf;

/// <summary>The media of a file: file source mobs with their descriptors, locators and embedded essence.</summary>
/// <remarks>docs/formats/aaf.md, section 4.</remarks>
internal sealed class AafMedia(AafFile file, AafKinds kinds)
{
    private readonly EditMediaBook _book = new(file.Findings);

    /// <summary>By the identifier of the file source mob.</summary>
    public IReadOnlyDictionary<string, DocumentMedia> Known => _book.Known;

    /// <summary>The media of a file source mob.</summary>
    /// <param name="id">Of the mob.</param>
    /// <param name="mob">The mob.</param>
    /// <param name="clipName">What the clip over it is called, where it has no locator.</param>
    public DocumentMedia Of(string id, AafObject mob, string? clipName)
    {
        if (_book.Find(id) is { } known)
        {
            return known;
        }

        var descriptor = mob.Object(AafPid.EssenceDescription)!;
        var url = Url(descriptor);
        var rate = descriptor.Ratio(AafPid.AudioSamplingRate) ?? descriptor.Ratio(AafPid.FileSampleRate);
        var media = _book.Add(new DocumentMedia
        {
            Id = id,
            FileName = EditMediaBook.Clean(Physical(mob.Text(AafPid.MobName))) ?? EditMediaBook.Clean(clipName) ?? EditMediaBook.NameIn(url) ?? id[^8..],
            LocatorName = EditMediaBook.NameIn(url),
            Url = url,
            Rate = new SampleRate(rate is { } r && SampleRate.IsPossible(r) ? r : 48_000),
            Channels = (int)Math.Clamp(descriptor.Whole(AafPid.Channels) ?? Math.Max(1, mob.Objects(AafPid.Slots).Count(s => s.Object(AafPid.SlotSegment) is { } segment && kinds.IsSound(segment))), 1, 1024),
            Bits = (int)Math.Clamp(descriptor.Whole(AafPid.QuantizationBits) ?? 0, 0, 64),
            Length = Math.Max(0, descriptor.Whole(AafPid.FileLength) ?? 0),
        });
        media = _book.WithSummary(media, descriptor.Bytes(AafPid.WaveSummary) ?? descriptor.Bytes(AafPid.AifcSummary), descriptor.Has(AafPid.WaveSummary));
        if (file.Essence.TryGetValue(id, out var essence) && essence.DataStream(AafPid.EssenceStream) is { } stream)
        {
            using (stream)
            {
                media = _book.WithEssence(media, stream);
            }
        }

        return _book.Replace(media);
    }

    /// <summary>A medium that is referred to and not described.</summary>
    public DocumentMedia Unknown(string id, string? clipName) => _book.Unknown(id, clipName);

    /// <summary>The name in the locator that a mob's chain ends at; null where there is none.</summary>
    public string? LocatorOf(string id)
    {
        var at = id;
        for (var steps = 0; steps < 20 && file.ById.TryGetValue(at, out var mob); steps++)
        {
            if (mob.Object(AafPid.EssenceDescription) is { } descriptor && EditMediaBook.NameIn(Url(descriptor)) is { } name)
            {
                return name;
            }

            var next = mob.Objects(AafPid.Slots).Select(s => s.Object(AafPid.SlotSegment)).OfType<AafObject>()
                .SelectMany(s => s.Is("Sequence") ? s.Objects(AafPid.Components) : [s]).Select(s => s.MobId(AafPid.SourceId)).FirstOrDefault(i => i is not null);
            if (next is null)
            {
                return mob.Text(AafPid.MobName);
            }

            at = next;
        }

        return null;
    }

    private static string? Url(AafObject descriptor) => descriptor.Objects(AafPid.Locators)
        .Select(l => l.Text(AafPid.UrlString) ?? l.Text(AafPid.LocatorName)).FirstOrDefault(t => !string.IsNullOrEmpty(t));

    // Writers mark a file source mob by this ending on the name of its file.
    private static string? Physical(string? name) => name is not null && name.EndsWith(".PHYS", StringComparison.Ordinal) ? name[..^5] : name;
}
