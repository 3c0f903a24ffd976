using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Edits;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Omf;

/// <summary>The media of a file: source mobs with their descriptors, locators, and the sound inside.</summary>
/// <remarks>docs/formats/omf.md, section 5.</remarks>
internal sealed class OmfMedia(OmfFile file)
{
    private static readonly string[] s_locators = ["OMFI:WINL:PathName", "OMFI:DOSL:PathName", "OMFI:UNXL:PathName", "OMFI:NETL:URLString", "OMFI:MACL:FileName", "OMFI:MACL:PathName", "OMFI:TXTL:Name"];
    private static readonly string[] s_sound = ["OMFI:WAVE:Data", "OMFI:AIFC:Data"];
    private readonly EditMediaBook _book = new(file.Findings);

    /// <summary>By the identifier of the source mob.</summary>
    public IReadOnlyDictionary<string, DocumentMedia> Known => _book.Known;

    /// <summary>The descriptor of a mob that stands for a file; null for all others.</summary>
    public OmfObject? DescriptorOf(OmfObject mob) => mob.Object(file.Version == 1 ? "OMFI:MOBJ:PhysicalMedia" : "OMFI:SMOB:MediaDescription") is { } own && own.Is("MDFL") ? own : null;

    /// <param name="id">Of the mob.</param>
    /// <param name="name">Of the mob.</param>
    /// <param name="descriptor">Of the mob.</param>
    /// <param name="clipName">What the clip over it is called.</param>
    public DocumentMedia Of(string id, string? name, OmfObject descriptor, string? clipName)
    {
        if (_book.Find(id) is { } known)
        {
            return known;
        }

        var locator = Locator(descriptor);
        var rate = descriptor.Ratio("OMFI:PCMA:AudioSamplingRate") ?? descriptor.Ratio("OMFI:MDFL:SampleRate");
        var media = _book.Add(new DocumentMedia
        {
            Id = id,
            FileName = EditMediaBook.Clean(name) ?? EditMediaBook.NameIn(locator) ?? EditMediaBook.Clean(clipName) ?? id[^8..],
            LocatorName = EditMediaBook.NameIn(locator),
            Url = locator,
            Rate = new SampleRate(rate is { } r && SampleRate.IsPossible(r) ? r : 48_000),
            Channels = (int)Math.Clamp(descriptor.Whole("OMFI:PCMA:NumberOfChannels") ?? 1, 1, 1024),
            Length = Math.Max(0, descriptor.Whole("OMFI:MDFL:Length") ?? 0),
        });
        var isWave = descriptor.Has("OMFI:WAVD:Summary");
        media = _book.WithSummary(media, descriptor.Bytes(isWave ? "OMFI:WAVD:Summary" : "OMFI:AIFD:Summary"), isWave);
        using var sound = Open(id, media.FileName);
        return _book.Replace(sound is null ? media : _book.WithEssence(media, sound));
    }

    public DocumentMedia Unknown(string id, string? clipName) => _book.Unknown(id, clipName);

    /// <summary>The sound of a mob that lies inside the file.</summary>
    public Stream? Open(string id, string name)
    {
        if (!file.Sound.TryGetValue(id, out var data))
        {
            return null;
        }

        var property = Array.Find(s_sound, data.Has);
        if (property is null)
        {
            file.Findings.Add(OmfCodes.SoundKind, name, $"{name}: its sound lies inside as {data.Class}, which cannot be read; its file must be found.");
        }

        return property is null ? null : data.Open(property);
    }

    private static string? Locator(OmfObject descriptor) => descriptor.Objects("OMFI:MDES:Locator")
        .Select(l => s_locators.Select(l.Text).FirstOrDefault(t => !string.IsNullOrEmpty(t))).FirstOrDefault(t => t is not null);
}
