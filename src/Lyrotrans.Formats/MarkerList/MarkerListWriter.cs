using System.Globalization;
using System.Text;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.MarkerList;

/// <summary>Writes a session's markers as delimited text: exact samples first, then the same places in timecode and bars for people; who and when where any marker says it.</summary>
/// <remarks>docs/formats/marker-list.md, section 3.</remarks>
public static class MarkerListWriter
{
    /// <param name="session">Its markers, in their order.</param>
    public static byte[] Write(Session session)
    {
        var (by, date) = (session.Markers.Any(m => m.By.Length > 0), session.Markers.Any(m => m.Date.Length > 0));
        IEnumerable<string> Line(IEnumerable<string> places, string byCell, string dateCell) => [.. places, .. by ? [byCell] : Array.Empty<string>(), .. date ? [dateCell] : Array.Empty<string>()];
        var text = new StringBuilder(DelimitedText.Line(Line(["text", "start samples", "end samples", "start timecode", "end timecode", "start bars", "end bars"], "by", "date")));
        foreach (var marker in session.Markers)
        {
            var start = PositionText.Of(session, marker.Sample);
            var end = marker.Length > 0 ? PositionText.Of(session, marker.Sample + marker.Length) : null;
            text.Append(DelimitedText.Line(Line(
                [marker.Text, Whole(start.Sample), end is null ? string.Empty : Whole(end.Sample), start.Timecode, end?.Timecode ?? string.Empty, start.Bars, end?.Bars ?? string.Empty], marker.By, marker.Date)));
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static string Whole(long sample) => sample.ToString(CultureInfo.InvariantCulture);
}
