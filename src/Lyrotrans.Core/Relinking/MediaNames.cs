using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Relinking;

/// <summary>
/// What a medium may be called and known by. The first of <see cref="Media.Identifiers"/> is its own in the format that said it; the others are names
/// that locators had, or the start of the file.
/// </summary>
public static class MediaNames
{
    private const string Start = "start:";

    /// <summary>Its file name, and what locators call it.</summary>
    public static IEnumerable<string> Of(Media media) =>
        media.Identifiers.Skip(1).Where(i => !i.StartsWith(Start, StringComparison.Ordinal)).Prepend(media.FileName);

    /// <summary>The folder, with a <c>/</c> at its end, that everything inside a file of clips comes to lie in.</summary>
    public static string FolderInside(string document) => $"{document} media/";

    /// <summary>The file of clips that something lies inside, by its file name; null where it lies in none.</summary>
    public static string? HolderOf(string fileName) => fileName.LastIndexOf(FolderInside(string.Empty), StringComparison.Ordinal) is > 0 and var at ? fileName[..at] : null;

    /// <summary>An identifier that says how the file begins.</summary>
    public static string ByStart(int bytes, string sha256) => string.Create(CultureInfo.InvariantCulture, $"{Start}{bytes}:{sha256}");

    /// <summary>A medium as others are told of it: by its names and not by its hashes, which would tell who knows a file that it was here.</summary>
    public static Media WithoutHashes(Media media) => media with { Sha256 = null, Identifiers = media.Identifiers.Where(i => !i.StartsWith(Start, StringComparison.Ordinal)).ToValueArray() };

    /// <summary>A session as others are told of it: no medium and no picture by its hash.</summary>
    public static Session WithoutHashes(Session session) => session with
    {
        Media = session.Media.Select(WithoutHashes).ToValueArray(),
        Picture = session.Picture is { } picture ? picture with { Sha256 = null } : null,
    };

    /// <summary>How many of the file's first bytes are known, and their hash.</summary>
    public static (int Bytes, string Sha256)? StartOf(Media media)
    {
        var said = media.Identifiers.FirstOrDefault(i => i.StartsWith(Start, StringComparison.Ordinal))?.Split(':');
        return said is { Length: 3 } && int.TryParse(said[1], CultureInfo.InvariantCulture, out var bytes) && bytes is > 0 and < 1 << 20 ? (bytes, said[2]) : null;
    }
}
