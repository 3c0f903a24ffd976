using System.Globalization;
using System.Text;
using Lyrotrans.Core.Positions;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.MarkerList;

/// <summary>Writes a session's markers as delimited text: exact samples first, then the same places in timecode and bars for people.</summary>
/// <remarks>docs/formats/marker-list.md, section 3.</remarks>
public static class MarkerListWriter
{
    /// <param name="session">Its markers, in their order.</param>
    public static byte[] Write(Session session)
    {
        var text = new StringBuilder(DelimitedText.Line("text", "start samples", "end samples", "start timecode", "end timecode", "start bars", "end bars"));
        foreach (var marker in session.Markers)
        {
            var start = PositionText.Of(session, marker.Sample);
            var end = marker.Length > 0 ? PositionText.Of(session, marker.Sample + marker.Length) : null;
            text.Append(DelimitedText.Line(
                marker.Text, Whole(start.Sample), end is null ? string.Empty : Whole(end.Sample), start.Timecode, end?.Timecode ?? string.Empty, start.Bars, end?.Bars ?? string.Empty));
        }

        return Encoding.UTF8.GetBytes(text.ToString());
    }

    private static string Whole(long sample) => sample.ToString(CultureInfo.InvariantCulture);
}
