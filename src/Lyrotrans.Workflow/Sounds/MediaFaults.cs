using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Media of a session that are not there, or whose own header says another thing than the session.</summary>
public static class MediaFaults
{
    /// <param name="session">What the session says of its media; those that no clip uses are not looked at.</param>
    /// <param name="files">Where they lie.</param>
    /// <param name="stop">Stops between media.</param>
    /// <returns>By the identifiers of the media.</returns>
    public static IReadOnlyDictionary<string, MediaFault> Of(Session session, IMediaFiles files, CancellationToken stop)
    {
        var used = session.Tracks.SelectMany(t => t.Lanes).SelectMany(l => l.Clips).Select(c => c.Media).ToHashSet();
        var faults = new Dictionary<string, MediaFault>();
        foreach (var media in session.Media.Where(m => used.Contains(m.Id)))
        {
            stop.ThrowIfCancellationRequested();
            if (Of(media, files) is { } fault)
            {
                faults[media.Id] = fault;
            }
        }

        return faults;
    }

    private static MediaFault? Of(Media media, IMediaFiles files)
    {
        if (files.FileOf(media) is not { } file)
        {
            return MediaFault.Missing;
        }

        SoundFileFacts facts;
        try
        {
            using var sound = SoundFile.Open(file, media.FileName);
            facts = sound.Facts;
        }
        catch (BadInputException problem)
        {
            return new MediaFault(SoundGapKind.Contradicted, problem.Message);
        }

        var said = new[]
        {
            Said("channels", $"{media.Channels}", $"{facts.Channels}"),
            Said("sample frames", Digits.Grouped(media.Length), Digits.Grouped(facts.Frames)),
            Said("depth", media.Encoding.Words(), facts.Encoding.Words()),
            media.RateDeclared ? null : Said("rate", $"{media.Rate.HeaderHz} Hz", $"{facts.SampleRate.HeaderHz} Hz"),
        };
        var words = string.Join("; ", said.OfType<string>());
        return words.Length == 0 ? null : new MediaFault(SoundGapKind.Contradicted, words);
    }

    private static string? Said(string what, string session, string header) => session == header ? null : $"{what}: the session says {session}, its header {header}";
}
