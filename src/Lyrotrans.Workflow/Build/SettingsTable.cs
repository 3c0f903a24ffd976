using System.Globalization;
using System.Text;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.MarkerList;

namespace Lyrotrans.Workflow.Build;

/// <summary>Every setting of a session's tracks as delimited text, for the other side to set up by.</summary>
/// <remarks>docs/package.md, "Table of settings".</remarks>
public static class SettingsTable
{
    private static readonly string[] s_head = ["track number", "track", "what", "of", "value", "switched off"];

    /// <summary>As UTF-8 text; the same session gives the same bytes.</summary>
    public static byte[] Write(Session session) => Encoding.UTF8.GetBytes(string.Concat(TrackSettings.Of(session)
        .Select(s => DelimitedText.Line([s.Number.ToString(CultureInfo.InvariantCulture), s.Track, s.What, s.Of, s.Value, s.IsOff ? "yes" : string.Empty])).Prepend(DelimitedText.Line(s_head))));
}
