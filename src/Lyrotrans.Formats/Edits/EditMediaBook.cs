using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Naming;
using Lyrotrans.Formats.Sessions;
using System.Security.Cryptography;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Formats.Edits;

/// <summary>The media that a composition refers to, each once and under a name of its own; and what their locators and headers say of them.</summary>
/// <param name="findings">Gets what could not be used.</param>
internal sealed class EditMediaBook(FindingList findings)
{
    // A header this long has more in it than numbers that many files share.
    private const int TellingStart = 200;
    private readonly Dictionary<string, DocumentMedia> _known = [];
    // Two media of one name are two media; the later gets a number.
    private readonly TakenNames _names = new();

    public IReadOnlyDictionary<string, DocumentMedia> Known => _known;

    public DocumentMedia? Find(string id) => _known.GetValueOrDefault(id);

    public DocumentMedia Add(DocumentMedia media) => _known[media.Id] = media with { FileName = _names.FreeFile(media.FileName, ' ') };

    public DocumentMedia Replace(DocumentMedia media) => _known[media.Id] = media;

    /// <summary>A medium that is referred to and not described.</summary>
    public DocumentMedia Unknown(string id, string? clipName) =>
        Find(id) ?? Add(new DocumentMedia { Id = id, FileName = Clean(clipName) ?? $"unknown {id[^Math.Min(8, id.Length)..]}", Rate = Core.Time.SampleRate.Hz48000 });

    public static string? Clean(string? name) => string.IsNullOrWhiteSpace(name) ? null : name.Replace('/', '_').Replace('\\', '_');

    /// <summary>The last part of a locator: of a path with slashes or backslashes, of a URL, or of an old Macintosh path with colons. Only it can be relied on.</summary>
    public static string? NameIn(string? locator)
    {
        if (string.IsNullOrWhiteSpace(locator))
        {
            return null;
        }

        var path = locator.Replace('\\', '/').TrimEnd('/');
        var name = path.Contains('/', StringComparison.Ordinal) ? path.Split('/')[^1] : path.Split(':')[^1];
        try
        {
            name = locator.Contains(':', StringComparison.Ordinal) || locator.Contains('%', StringComparison.Ordinal) ? Uri.UnescapeDataString(name) : name;
        }
        catch (UriFormatException)
        {
            // Not percent-encoded after all.
        }

        return Clean(name);
    }

    /// <summary>What a header that was copied into a descriptor knows and the descriptor does not: float, and the time stamp.</summary>
    public DocumentMedia WithSummary(DocumentMedia media, ReadOnlyMemory<byte>? summary, bool isWave)
    {
        if (summary is not { Length: > 12 } bytes)
        {
            return media;
        }

        try
        {
            using var stream = new MemoryStream(bytes.ToArray());
            var header = isWave ? WaveReader.Read(stream, media.FileName) : AiffReader.Read(stream, media.FileName);
            return Described(media, header.Layout) with
            {
                TimeReference = header.Broadcast?.TimeReference,
                Start = bytes.Length >= TellingStart ? (bytes.Length, Convert.ToHexStringLower(SHA256.HashData(bytes.Span))) : null,
            };
        }
        catch (Exception problem) when (problem is BadInputException or EndOfStreamException)
        {
            findings.Add(EditCodes.HeaderCopy, media.FileName, $"{media.FileName}: the header copied into its descriptor cannot be read; the descriptor's own numbers were taken.");
            return media;
        }
    }

    /// <summary>Sound that lies inside the document: a whole WAVE or AIFF file, or samples alone.</summary>
    public DocumentMedia WithEssence(DocumentMedia media, Stream essence)
    {
        try
        {
            return LinearSound.Read(essence, media.FileName) is { } header
                ? Whole(media, header)
                : media with { How = "embedded-pcm", Length = media.Bits > 0 ? essence.Length / Math.Max(1, media.Channels * ((media.Bits + 7) / 8)) : media.Length };
        }
        catch (Exception problem) when (problem is BadInputException or EndOfStreamException)
        {
            findings.Add(EditCodes.EmbeddedSound, media.FileName, $"{media.FileName}: its sound inside the file cannot be read as it is said to be: {problem.Message}");

            // Taken as something else it would be noise.
            return media;
        }
    }

    private static DocumentMedia Whole(DocumentMedia media, SoundHeader header) =>
        Described(media, header.Layout) with { How = header.IsAiff ? "embedded-aifc" : "embedded-wave", Length = header.Layout.Frames, TimeReference = header.Broadcast?.TimeReference ?? media.TimeReference };

    private static DocumentMedia Described(DocumentMedia media, PcmLayout layout) =>
        media with { Channels = layout.Channels, Rate = layout.Rate, Bits = layout.Encoding.Bits(), IsFloat = layout.Encoding.IsFloat() };
}
