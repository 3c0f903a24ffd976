using System.Globalization;
using System.Xml.Linq;
using Lyrotrans.Core.Collections;

namespace Lyrotrans.Formats.Wave;

/// <summary>What the channels of a file are called: by the track list of iXML, else by lines of bext's description such as <c>sTRK1=Boom</c>.</summary>
/// <remarks>docs/formats/sound.md, section 4.</remarks>
internal static class ChannelNames
{
    private const int Longest = 200;
    private const string TrackMark = "TRK";

    /// <summary>The names in an iXML document by channel, from 1: by the place among the file's channels, or else by the recorder's own number.</summary>
    public static IReadOnlyDictionary<int, string> Of(XDocument ixml)
    {
        var names = new Dictionary<int, string>();
        foreach (var track in ixml.Descendants("TRACK_LIST").Elements("TRACK"))
        {
            var place = Number(track.Element("INTERLEAVE_INDEX")) ?? Number(track.Element("CHANNEL_INDEX"));
            var name = Text(track, "NAME") ?? Text(track, "FUNCTION");
            if (place is { } channel && name is not null)
            {
                names.TryAdd(channel, name);
            }
        }

        return names;
    }

    /// <summary>The names in a description by channel, from 1.</summary>
    public static IReadOnlyDictionary<int, string> Of(string description)
    {
        var names = new Dictionary<int, string>();
        foreach (var line in description.Split('\n', '\r'))
        {
            var at = line.IndexOf('=', StringComparison.Ordinal);
            var key = at > 0 ? line[..at].Trim() : string.Empty;
            var mark = key.IndexOf(TrackMark, StringComparison.OrdinalIgnoreCase);
            if (mark is 0 or 1 && int.TryParse(key[(mark + TrackMark.Length)..], NumberStyles.None, CultureInfo.InvariantCulture, out var channel) && line[(at + 1)..].Trim() is { Length: > 0 } name)
            {
                names.TryAdd(channel, name);
            }
        }

        return names;
    }

    /// <summary>A name for each channel, empty where it has none; none at all where no channel has one.</summary>
    public static ValueArray<string> Together(IReadOnlyDictionary<int, string> ixml, IReadOnlyDictionary<int, string> description, int channels)
    {
        var names = Enumerable.Range(1, channels).Select(c => Cut(ixml.GetValueOrDefault(c) ?? description.GetValueOrDefault(c) ?? string.Empty)).ToValueArray();
        return names.All(n => n.Length == 0) ? default : names;
    }

    private static string? Text(XElement track, string element) => track.Element(element)?.Value.Trim() is { Length: > 0 } text ? text : null;

    private static string Cut(string name) => name.Length > Longest ? name[..Longest] : name;

    private static int? Number(XElement? element) => int.TryParse(element?.Value.Trim(), NumberStyles.None, CultureInfo.InvariantCulture, out var number) && number > 0 ? number : null;
}
