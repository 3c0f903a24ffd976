using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Aaf;

/// <summary>The media of a file: file source mobs with their descriptors, locators and embedded essence.</summary>
internal sealed class AafMedia(AafFile file, AafKinds kinds)
{
    // A header this long has more in it than numbers that many files share.
    private const int TellingStart = 200;
    private readonly Dictionary<string, EditMedia> _known = [];
    private readonly HashSet<string> _names = [];
    private readonly Dictionary<AafObject, List<AafObject>> _soundSlots = [];

    /// <summary>By the identifier of the file source mob.</summary>
    public IReadOnlyDictionary<string, EditMedia> Known => _known;

    /// <summary>The media of a file source mob.</summary>
    /// <param name="id">Of the mob.</param>
    /// <param name="mob">The mob.</param>
    /// <param name="clipName">What the clip over it is called, where it has no locator.</param>
    public EditMedia Of(string id, AafObject mob, string? clipName)
    {
        if (_known.TryGetValue(id, out var known))
        {
            return known;
        }

        var descriptor = mob.Object(AafPid.EssenceDescription)!;
        var url = Url(descriptor);
        var rate = descriptor.Ratio(AafPid.AudioSamplingRate) ?? descriptor.Ratio(AafPid.FileSampleRate);
        var media = new EditMedia
        {
            Id = id,
            FileName = Clean(Physical(mob.Text(AafPid.MobName))) ?? Clean(clipName) ?? Named(url) ?? id[^8..],
            LocatorName = Named(url),
            Url = url,
            Rate = new SampleRate(rate is { } r && SampleRate.IsPossible(r) ? r : 48_000),
            Channels = (int)Math.Clamp(descriptor.Whole(AafPid.Channels) ?? Math.Max(1, SoundSlots(mob).Count), 1, 1024),
            Bits = (int)Math.Clamp(descriptor.Whole(AafPid.QuantizationBits) ?? 0, 0, 64),
            Length = Math.Max(0, descriptor.Whole(AafPid.FileLength) ?? 0),
        };
        return _known[id] = WithEssence(id, WithSummary(media with { FileName = Free(media.FileName) }, descriptor));
    }

    // Two media of one name are two media; the later gets a number.
    private string Free(string name)
    {
        var free = name;
        for (var n = 2; !_names.Add(free); n++)
        {
            free = $"{Path.GetFileNameWithoutExtension(name)} {n}{Path.GetExtension(name)}";
        }

        return free;
    }

    /// <summary>A medium that is referred to and not described.</summary>
    public EditMedia Unknown(string id, string? clipName) =>
        _known.TryGetValue(id, out var known) ? known : _known[id] = new EditMedia { Id = id, FileName = Clean(clipName) ?? $"unknown {id[^8..]}", Rate = SampleRate.Hz48000 };

    /// <summary>Sound slots of a mob, in order.</summary>
    public List<AafObject> SoundSlots(AafObject mob) => _soundSlots.TryGetValue(mob, out var known) ? known : _soundSlots[mob] = Sound(mob);

    private List<AafObject> Sound(AafObject mob) => mob.Objects(AafPid.Slots).Where(s => s.Object(AafPid.SlotSegment) is { } segment && kinds.IsSound(segment)).ToList();

    /// <summary>The name in the locator that a mob's chain ends at; null where there is none.</summary>
    public string? LocatorOf(string id)
    {
        var at = id;
        for (var steps = 0; steps < 20 && file.ById.TryGetValue(at, out var mob); steps++)
        {
            if (mob.Object(AafPid.EssenceDescription) is { } descriptor && Named(Url(descriptor)) is { } name)
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

    private static string? Clean(string? name) => string.IsNullOrWhiteSpace(name) ? null : name.Replace('/', '_').Replace('\\', '_');

    // Of a locator only the last part can be relied on.
    private static string? Named(string? url)
    {
        if (string.IsNullOrWhiteSpace(url))
        {
            return null;
        }

        var name = url.Replace('\\', '/').TrimEnd('/').Split('/')[^1];
        try
        {
            name = url.Contains(':', StringComparison.Ordinal) || url.Contains('%', StringComparison.Ordinal) ? Uri.UnescapeDataString(name) : name;
        }
        catch (UriFormatException)
        {
            // Not percent-encoded after all.
        }

        return Clean(name);
    }

    // The header that was copied into the descriptor knows what the descriptor does not: float, and the time stamp.
    private EditMedia WithSummary(EditMedia media, AafObject descriptor)
    {
        var summary = descriptor.Bytes(AafPid.WaveSummary) ?? descriptor.Bytes(AafPid.AifcSummary);
        if (summary is not { Length: > 12 } bytes)
        {
            return media;
        }

        try
        {
            using var stream = new MemoryStream(bytes.ToArray());
            var header = descriptor.Has(AafPid.WaveSummary) ? WaveReader.Read(stream, media.FileName) : AiffReader.Read(stream, media.FileName);
            return Described(media, header.Layout) with
            {
                TimeReference = header.Broadcast?.TimeReference,
                Start = bytes.Length >= TellingStart ? (bytes.Length, Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes.Span))) : null,
            };
        }
        catch (Exception problem) when (problem is BadInputException or EndOfStreamException)
        {
            file.Find($"{media.FileName}: the header copied into its descriptor cannot be read; the descriptor's own numbers were taken.");
            return media;
        }
    }

    private EditMedia WithEssence(string id, EditMedia media)
    {
        if (!file.Essence.TryGetValue(id, out var essence) || essence.DataStream(AafPid.EssenceStream) is not { } stream)
        {
            return media;
        }

        using (stream)
        {
            var head = new byte[12];
            var read = stream.ReadAtLeast(head, head.Length, throwOnEndOfStream: false);
            var word = System.Text.Encoding.Latin1.GetString(head, 0, Math.Min(4, read));
            try
            {
                stream.Position = 0;
                return word switch
                {
                    "RIFF" or "RF64" => Whole(media, WaveReader.Read(stream, media.FileName), "embedded-wave"),
                    "FORM" => Whole(media, AiffReader.Read(stream, media.FileName), "embedded-aiff"),
                    _ => media with { How = "embedded-pcm", Length = media.Bits > 0 ? stream.Length / Math.Max(1, media.Channels * ((media.Bits + 7) / 8)) : media.Length },
                };
            }
            catch (Exception problem) when (problem is BadInputException or EndOfStreamException)
            {
                file.Find($"{media.FileName}: its sound inside the file cannot be read as it is said to be: {problem.Message}");
                return media with { How = "embedded-pcm" };
            }
        }
    }

    private static EditMedia Whole(EditMedia media, SoundHeader header, string how) =>
        Described(media, header.Layout) with { How = how, Length = header.Layout.Frames, TimeReference = header.Broadcast?.TimeReference ?? media.TimeReference };

    private static EditMedia Described(EditMedia media, PcmLayout layout) =>
        media with { Channels = layout.Channels, Rate = layout.Rate, Bits = layout.Encoding.Bits(), IsFloat = layout.Encoding.IsFloat() };
}
