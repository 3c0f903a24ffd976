using Lyrotrans.Formats.Sessions;
using System.Globalization;
using System.Text;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Edits;

/// <summary>Everything that makes a written composition what it is, in words of a few bytes each: what identifiers are made of, so that the same session gives the same file.</summary>
internal static class EditIdentity
{
    /// <param name="form">How it is written, in words.</param>
    public static string Of(Session session, IReadOnlyDictionary<string, MediaEssence> essence, string form)
    {
        var text = new StringBuilder();
        text.Append(CultureInfo.InvariantCulture, $"{session.Name}\n{session.Rate.PerSecond} {session.Start} {session.FrameRate} {form}\n");
        foreach (var media in session.Media)
        {
            text.Append(CultureInfo.InvariantCulture, $"{media.Id} {essence[media.Id].Identity} {essence[media.Id].BesidePath}\n");
        }

        foreach (var track in session.Tracks)
        {
            text.Append(CultureInfo.InvariantCulture, $"{track.Name} {track.FaderDb:R} {track.Pan:R}\n");
            foreach (var clip in track.Sounding?.Clips ?? [])
            {
                text.Append(CultureInfo.InvariantCulture, $"{clip.Media} {clip.Start} {clip.Length} {clip.SourceOffset} {clip.GainDb:R} {clip.FadeIn.Length} {clip.FadeOut.Length}\n");
            }
        }

        foreach (var comment in session.Comments)
        {
            text.Append(CultureInfo.InvariantCulture, $"{comment.Name} {comment.Text}\n");
        }

        foreach (var marker in session.Markers)
        {
            text.Append(CultureInfo.InvariantCulture, $"{marker.Sample} {marker.Text}\n");
        }

        return text.ToString();
    }
}
