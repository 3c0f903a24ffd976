using System.Globalization;
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

    /// <summary>An identifier that says how the file begins.</summary>
    public static string ByStart(int bytes, string sha256) => string.Create(CultureInfo.InvariantCulture, $"{Start}{bytes}:{sha256}");

    /// <summary>How many of the file's first bytes are known, and their hash.</summary>
    public static (int Bytes, string Sha256)? StartOf(Media media)
    {
        var said = media.Identifiers.FirstOrDefault(i => i.StartsWith(Start, StringComparison.Ordinal))?.Split(':');
        return said is { Length: 3 } && int.TryParse(said[1], CultureInfo.InvariantCulture, out var bytes) && bytes is > 0 and < 1 << 20 ? (bytes, said[2]) : null;
    }
}
