using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Formats.Omf;

namespace Lyrotrans.Formats.Tests;

/// <summary>Random sessions made ones that OMF can say as they are, with the identifiers that reading one gives.</summary>
internal static class FittedSessions
{
    public static Session ForOmf(int seed, int unit = 1)
    {
        var made = ClipSessions.Make(seed, unit);
        var ids = made.Media.ToDictionary(m => m.Id, m => OmfId.Of("source mob", m.Id));
        return made with
        {
            Name = AsciiText.Of(made.Name),
            Markers = [],
            Picture = null,
            Comments = made.Comments.Select(c => new Comment(c.Name, AsciiText.Of(c.Text))).ToValueArray(),
            Media = made.Media.Select(m => m with { Id = ids[m.Id], Channels = Math.Min(2, m.Channels), Identifiers = [ids[m.Id]] }).ToValueArray(),
            Tracks = made.Tracks.Select(t => Fitted(t, ids)).ToValueArray(),
        };
    }

    private static Track Fitted(Track track, Dictionary<string, string> ids)
    {
        var clips = track.Lanes[0].Clips;
        var channels = Math.Min(2, track.Channels);
        return track with
        {
            Channels = channels,
            Lanes = [new Lane("main", clips.Select((c, i) => c with
            {
                Media = ids[c.Media],
                ChannelMap = c.ChannelMap.Take(channels).Select(n => Math.Min(1, n)).ToValueArray(),
                FadeIn = Fade(c.FadeIn, i > 0 && clips[i - 1].End > c.Start),
                FadeOut = Fade(c.FadeOut, i + 1 < clips.Count && c.End > clips[i + 1].Start),
            }).ToValueArray())],
        };
    }

    private static Fade Fade(Fade fade, bool crosses) => fade.Length == 0 ? fade : FadeMapping.ForLevel(fade, crosses).Fade;
}
