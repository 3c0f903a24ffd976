using Lyrotrans.Audio.Placing;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Arriving;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Returning;

/// <summary>A track that was sent, as it sounds from where everything that was sent begins.</summary>
/// <param name="Name">As people call it.</param>
/// <param name="Sound">Its sound.</param>
public sealed record SentSound(string Name, SearchedSound Sound)
{
    /// <summary>All tracks of a package whose sound is here, each in one form: as a file of sound where it went as one.</summary>
    /// <param name="sent">What was sent.</param>
    /// <param name="memory">Keeps them as they are analysed.</param>
    public static IReadOnlyList<SentSound> Of(SentPackage sent, AnalysisMemory memory)
    {
        var session = sent.Sent.Session;
        var media = session.Media.ToDictionary(m => m.Id);
        var forms = sent.Sent.Tracks.GroupBy(t => t.Of ?? t.Id).SelectMany(g => g.Where(t => t.IsFile == g.Any(f => f.IsFile))).Select(t => t.Id).ToHashSet();
        return [.. session.Tracks.Where(t => forms.Contains(t.Id) && (t.Sounding?.Clips ?? []).Any(c => !c.Muted && sent.Media.FileOf(media[c.Media]) is not null))
            .Select(t => new SentSound(t.Name, new SearchedSound(() => new TrackSource(new TrackRender(session, t, new MediaOpener(sent.Media, session.Rate)), t.Channels, session.Rate, End(t)), memory)))];
    }

    private static long End(Track track) => track.Sounding!.Clips.Max(c => c.End);
}
