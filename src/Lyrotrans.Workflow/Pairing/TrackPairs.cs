using Lyrotrans.Files;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Storing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Pairing;

/// <summary>Finds pairs among a session's tracks with the sound at hand, and makes the files that joining them needs.</summary>
public static class TrackPairs
{
    private const int Seconds = 2;

    /// <summary>The pairs, the likeliest first; likeness of sound counts where media are there.</summary>
    public static IReadOnlyList<TrackPair> Of(Session session, IMediaStore store) => PairFinder.Pairs(session, (a, b) => Likeness(session, new StoredMedia(store), a, b));

    /// <summary>The decision to join tracks, its files made and in the store.</summary>
    /// <exception cref="BadInputException">They cannot be joined.</exception>
    public static async Task<ChannelEdit> JoinAsync(Session session, IMediaStore store, IReadOnlyList<string> ids, string name, CancellationToken stop)
    {
        var tracks = ids.Select(id => session.Tracks.FirstOrDefault(t => t.Id == id)).OfType<Track>().ToList();
        var hindrance = tracks.Count != ids.Count || tracks.Count < 2 ? "they are not all there" : PairJoin.Hindrance(session, tracks);
        if (hindrance is not null)
        {
            throw new BadInputException(PairCodes.NotJoined, name, string.Empty, $"The tracks cannot be joined: {hindrance}.", "Look at them in Survey.");
        }

        var media = session.Media.ToDictionary(m => m.Id);
        var needs = PairJoin.Needs(session, tracks).ToList();
        if (needs.SelectMany(n => n).Select(n => media[n.Media]).FirstOrDefault(m => !store.Holds(m)) is { } missing)
        {
            throw new BadInputException(IntakeCodes.MediaMissing, name, string.Empty, $"The tracks cannot be joined: {missing.FileName} is missing.", "Bring it in first.");
        }

        var made = new List<JoinedMedium>();
        foreach (var set in needs)
        {
            made.Add(new JoinedMedium([.. set.Select(s => new JoinedChannel(s.Media, s.Channel))], FileName(set, media), await MakeAsync(store, set, media, stop)));
        }

        return new ChannelEdit(ids, name, made);
    }

    private static async Task<string> MakeAsync(IMediaStore store, ValueArray<(string Media, int Channel)> set, Dictionary<string, Media> media, CancellationToken stop)
    {
        Directory.CreateDirectory(store.Scratch);
        var scratch = Path.Combine(store.Scratch, $"{Guid.NewGuid():N}.wav");
        try
        {
            await using (var output = File.Create(scratch))
            {
                ChannelJoin.Write([.. set.Select(s => (media[s.Media], store.FileOf(media[s.Media].Sha256!), s.Channel))], output, stop);
            }

            var sha256 = await store.TakeAsync(scratch, stop);
            SoundMeasures.Ensure(store, sha256, FileName(set, media), stop);
            return sha256;
        }
        finally
        {
            File.Delete(scratch);
        }
    }

    private static string FileName(ValueArray<(string Media, int Channel)> set, Dictionary<string, Media> media)
    {
        var first = media[set[0].Media].FileName;
        return $"{SideName.Of(first)?.Base ?? Path.GetFileNameWithoutExtension(first)}.wav";
    }

    // The first seconds of the first clip: what is one sound over two microphones is alike there or nowhere.
    private static double? Likeness(Session session, StoredMedia files, Track a, Track b)
    {
        var (one, two) = (a.Sounding!.Clips[0], b.Sounding!.Clips[0]);
        var (first, second) = (session.Media.First(m => m.Id == one.Media), session.Media.First(m => m.Id == two.Media));
        if (first.Rate != second.Rate || files.FileOf(first) is not { } firstFile || files.FileOf(second) is not { } secondFile)
        {
            return null;
        }

        try
        {
            using var left = SoundFile.Open(firstFile, first.FileName);
            using var right = SoundFile.Open(secondFile, second.FileName);
            return ChannelJoin.Likeness(
                left.Source, one.ChannelMap[0], one.SourceOffset, right.Source, two.ChannelMap[0], two.SourceOffset, (int)Math.Min(one.Length, Seconds * first.Rate.HeaderHz));
        }
        catch (BadInputException)
        {
            return null;
        }
    }
}
