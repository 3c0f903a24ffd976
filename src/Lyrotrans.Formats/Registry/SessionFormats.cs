using System.Collections.Immutable;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Formats.Aaf.Registration;
using Lyrotrans.Formats.Omf.Registration;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Otio.Registration;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Registry;

/// <summary>Every format that says a session. A new one is a folder and a line here; all that reads, writes, offers, proves or tests formats goes through this list.</summary>
public static class SessionFormats
{
    private static ImmutableArray<ISessionFormat> s_all =
    [
        new AafSessionFormat(),
        new OmfSessionFormat(),
        new OtioSessionFormat(),
        new OpenSessionFormat(),
    ];

    /// <summary>Every format of sessions, in the order in which they are asked whether a file is theirs.</summary>
    public static IReadOnlyList<ISessionFormat> All => s_all;

    /// <summary>Those that tracks can be delivered in as clips; the first is offered first.</summary>
    public static IReadOnlyList<IClipFormat> OfClips => [.. s_all.OfType<IClipFormat>()];

    /// <summary>The format of clips that is offered first.</summary>
    public static ClipFormat Usual => OfClips[0].Clips;

    /// <summary>By its identifier, of now or of before.</summary>
    public static ISessionFormat? Find(string id) => s_all.FirstOrDefault(f => f.Id == id || f.FormerIds.Contains(id));

    /// <exception cref="ArgumentException">There is no such format.</exception>
    public static ISessionFormat Get(string id) => Find(id) ?? throw new ArgumentException($"There is no format \"{id}\"; there are {Words("and")}.");

    /// <summary>The format that writes what a plan says.</summary>
    /// <exception cref="ArgumentException">It is not in the list.</exception>
    public static IClipFormat Get(ClipFormat format) => OfClips.FirstOrDefault(f => f.Clips == format) ?? throw new ArgumentException($"There is no format of clips \"{format}\".");

    /// <summary>The format of clips that a path's extension names; null for all else.</summary>
    public static IClipFormat? OfPath(string path) => OfClips.FirstOrDefault(f => f.Extension.Equals(Path.GetExtension(path), StringComparison.OrdinalIgnoreCase));

    /// <summary>The format of a file by its content; null where it says no session.</summary>
    public static ISessionFormat? Recognise(ReadOnlySpan<byte> head, Stream stream)
    {
        foreach (var format in s_all)
        {
            if (format.Is(head, stream))
            {
                return format;
            }
        }

        return null;
    }

    /// <summary>The formats of clips that a receiver takes, the one that it likes best first; every one where its sheet names none.</summary>
    public static IReadOnlyList<ClipFormat> TakenBy(SheetTerms? terms) => terms?.FormatIds is { Count: > 0 } ids
        ? [.. ids.Select(Find).OfType<IClipFormat>().Select(f => f.Clips)]
        : [.. OfClips.Select(f => f.Clips)];

    /// <summary>The formats of clips as people say them, such as <c>A, B or C</c>.</summary>
    public static string Words(string last) => Phrases.List([.. OfClips.Select(f => f.Id)], last);

    /// <summary>For tests of the list itself: one more format, at its end.</summary>
    internal static void Add(ISessionFormat format) => s_all = s_all.Any(f => f.Id == format.Id) ? throw new ArgumentException($"There is a format \"{format.Id}\" already.") : s_all.Add(format);
}
