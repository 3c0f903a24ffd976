using Lyrotrans.Audio.Onsets;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Measured sound of a session's media: from the store's peak files, or by reading the files now.</summary>
public static class SoundMeasures
{
    /// <summary>What the peaks of a stored file are called.</summary>
    public const string PeaksName = "peaks";

    /// <summary>By media id; media that is missing or not measured yet is not in it.</summary>
    public static IReadOnlyDictionary<string, MediaSound> FromStore(Session session, IMediaStore store)
    {
        var result = new Dictionary<string, MediaSound>();
        foreach (var media in session.Media.Where(m => m.Sha256 is not null))
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
        var result = new System.Collections.Concurrent.ConcurrentDictionary<string, MediaSound>();
        Parallel.ForEach(session.Media, new ParallelOptions { CancellationToken = stop, MaxDegreeOfParallelism = Environment.ProcessorCount }, media =>
        {
            if (files.PathOf(media) is { } path)
            {
                using var file = SoundFile.Open(path, media.FileName);
                result[media.Id] = PeakPyramid.Measure(file.Source, stop).Sound;
            }
        });
        return result;
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
        foreach (var media in session.Media.Where(m => m.Sha256 is not null && File.Exists(store.DerivedPathOf(m.Sha256, PeaksName))))
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

    /// <summary>Makes a stored sound file's peaks where they are not there yet: to a temporary name first, then renamed.</summary>
    public static void EnsurePeaks(IMediaStore store, string sha256, string name, CancellationToken stop)
    {
        var path = store.DerivedPathOf(sha256, PeaksName);
        if (File.Exists(path))
        {
            return;
        }

        Directory.CreateDirectory(Path.GetDirectoryName(path)!);
        var temporary = $"{path}.{Guid.NewGuid():N}";
        using (var file = SoundFile.Open(store.PathOf(sha256), name))
        using (var output = File.Create(temporary))
        {
            PeakPyramid.Measure(file.Source, stop).Write(output);
        }

        File.Move(temporary, path, overwrite: true);
    }
}
