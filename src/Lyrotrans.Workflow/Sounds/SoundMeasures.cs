using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Onsets;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Measured sound of a session's media: from the files kept beside them in the store, or by reading the media now.</summary>
public static class SoundMeasures
{
    /// <summary>What the peaks of a stored file are called.</summary>
    public const string PeaksName = "peaks";

    private const string LevelsName = "levels";

    /// <summary>How many of a session's media were measured; they are measured once, so the number says which set it is.</summary>
    public static int Measured(Session session, IMediaStore store) => session.Media.Count(m => store.Holds(m) && File.Exists(store.DerivedPathOf(m.Sha256!, PeaksName)));

    /// <summary>By media id; media that is missing or not measured yet is not in it.</summary>
    public static IReadOnlyDictionary<string, MediaSound> FromStore(Session session, IMediaStore store)
    {
        var result = new Dictionary<string, MediaSound>();
        foreach (var media in session.Media.Where(store.Holds))
        {
            var path = store.DerivedPathOf(media.Sha256!, PeaksName);
            if (File.Exists(path))
            {
                using var stream = File.OpenRead(path);
                result[media.Id] = PeakPyramid.ReadSound(stream, media.FileName);
            }
        }

        return result;
    }

    /// <summary>By media id; missing media is not in it.</summary>
    public static IReadOnlyDictionary<string, MediaSound> FromFiles(Session session, IMediaFiles files, CancellationToken stop)
    {
        var found = session.Media.Select(m => (Media: m, Path: files.PathOf(m))).Where(f => f.Path is not null).ToList();
        var sounds = AtOnce.Select(
            found,
            f =>
            {
                using var file = SoundFile.Open(f.Path!, f.Media.FileName);
                return PeakPyramid.Measure(file.Source, stop).Sound;
            },
            stop);
        return found.Zip(sounds).ToDictionary(p => p.First.Media.Id, p => p.Second);
    }

    /// <summary>By media id; what is not there yet is measured now, several files at once. Missing media is not in it.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> Levels(Session session, IMediaStore store, CancellationToken stop)
    {
        var media = session.Media.Where(store.Holds).ToList();
        var levels = AtOnce.Select(media, m => LevelsOf(m, store, stop), stop);
        return media.Zip(levels).ToDictionary(p => p.First.Id, p => p.Second);
    }

    /// <summary>
    /// What tempo the sound of a session has, by the onsets in the store's peak files; null where its map says more than one
    /// tempo, or where too little was measured.
    /// </summary>
    public static TempoEstimate? Tempo(Session session, IMediaStore store)
    {
        if (session.Tempo.Points.Count > 1)
        {
            return null;
        }

        var curve = new OnsetCurve(session.Rate, session.EndSample);
        foreach (var media in session.Media.Where(m => store.Holds(m) && File.Exists(store.DerivedPathOf(m.Sha256!, PeaksName))))
        {
            using var stream = File.OpenRead(store.DerivedPathOf(media.Sha256!, PeaksName));
            var peaks = PeakPyramid.Read(stream, media.FileName);
            var clips = session.Tracks.Where(t => t.State == TrackState.Active).SelectMany(t => t.Sounding?.Clips ?? []);
            foreach (var clip in clips.Where(c => c.Media == media.Id && !c.Muted))
            {
                curve.Add(clip, media, peaks);
            }
        }

        return curve.Estimate(session.Tempo.Points[0].QuartersPerMinute.ToDouble());
    }

    /// <summary>Measures a stored sound file, whole and in one reading, where that was not done yet.</summary>
    /// <exception cref="Core.Errors.BadInputException">It cannot be read to its end.</exception>
    public static void Ensure(IMediaStore store, string sha256, string name, CancellationToken stop)
    {
        var (peaks, levels) = (store.DerivedPathOf(sha256, PeaksName), store.DerivedPathOf(sha256, LevelsName));
        if (File.Exists(peaks) && File.Exists(levels))
        {
            return;
        }

        using var file = SoundFile.Open(store.PathOf(sha256), name);
        var measured = SoundAnalysis.Measure(file.Source, stop);
        Directory.CreateDirectory(Path.GetDirectoryName(peaks)!);
        Keep(levels, output => output.Write(LevelFiles.Write(new Dictionary<string, SoundLevels> { [LevelsName] = measured.Levels })));
        Keep(peaks, measured.Peaks.Write);
    }

    private static SoundLevels LevelsOf(Media media, IMediaStore store, CancellationToken stop)
    {
        Ensure(store, media.Sha256!, media.FileName, stop);
        return LevelFiles.Read(store.DerivedPathOf(media.Sha256!, LevelsName))[LevelsName];
    }

    // To a temporary name first, then renamed: a half file is never found.
    private static void Keep(string path, Action<Stream> write)
    {
        var temporary = $"{path}.{Guid.NewGuid():N}";
        using (var output = File.Create(temporary))
        {
            write(output);
        }

        File.Move(temporary, path, overwrite: true);
    }
}
