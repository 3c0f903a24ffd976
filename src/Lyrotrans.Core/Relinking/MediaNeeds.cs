using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Core.Relinking;

/// <summary>How much of its media a session uses.</summary>
public static class MediaNeeds
{
    /// <summary>By media id, the end of the last clip over it, in the medium's own samples.</summary>
    public static IReadOnlyDictionary<string, long> Of(Session session)
    {
        var rates = session.Media.ToDictionary(m => m.Id, m => m.Rate);
        var needs = new Dictionary<string, long>();
        foreach (var clip in session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips))
        {
            var end = clip.SourceOffset + session.Rate.Convert(clip.Length, rates[clip.Media]);
            needs[clip.Media] = Math.Max(needs.GetValueOrDefault(clip.Media), end);
        }

        return needs;
    }
}
