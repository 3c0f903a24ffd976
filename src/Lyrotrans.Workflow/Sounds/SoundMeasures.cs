using Lyrotrans.Core.Naming;
using Lyrotrans.Workflow.Findings;
using System.Text;
using System.Text.Json;
using System.Text.Json.Serialization;
using Lyrotrans.Core.Findings;
using Lyrotrans.Audio.Analysis;
using Lyrotrans.Audio.Faults;
using Lyrotrans.Audio.Onsets;
using Lyrotrans.Audio.Peaks;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Storing;

namespace Lyrotrans.Workflow.Sounds;

/// <summary>Measured sound of a session's media: from the files kept beside them in the store, or by reading the media now.</summary>
public static class SoundMeasures
{
    /// <summary>What the peaks of a stored file are called.</summary>
    public const string PeaksName = "peaks";

    // The first form weighed channels for loudness where nothing says what they are.
    private const string LevelsName = "levels-2";
    private const string DamageName = "damage";
    private const string FaultsName = "faults";
    private const string SumName = "samples";
    private static readonly JsonSerializerOptions s_json = new() { Converters = { new FindingCodeConverter(), new JsonStringEnumConverter() }, NumberHandling = JsonNumberHandling.AllowNamedFloatingPointLiterals };

    /// <summary>How many of a session's media were measured; they are measured once, so the number says which set it is.</summary>
    public static int Measured(Session session, IMediaStore store) => session.Media.Count(m => PeaksOf(m, store) is not null);

    /// <summary>By media id; media that is missing or not measured yet is not in it.</summary>
    public static IReadOnlyDictionary<string, MediaSound> FromStore(Session session, IMediaStore store) => Kept(session, store, PeaksName, (file, media) =>
    {
        using var stream = file.Open();
        return PeakPyramid.ReadSound(stream, media.FileName);
    });

    /// <summary>What is wrong with media, by media id; media that is missing or not measured yet is not in it.</summary>
    public static IReadOnlyDictionary<string, SoundFaults> Faults(Session session, IMediaStore store) => Kept(session, store, FaultsName, (file, _) =>
    {
        using var stream = file.Open();
        return JsonSerializer.Deserialize<SoundFaults>(stream, s_json)!;
    });

    /// <summary>Levels that were measured already, by media id.</summary>
    public static IReadOnlyDictionary<string, SoundLevels> KnownLevels(Session session, IMediaStore store) => Kept(session, store, LevelsName, (file, _) => LevelFiles.Read(file)[LevelsName]);

    /// <summary>By media id; missing media is not in it.</summary>
    public static IReadOnlyDictionary<string, MediaSound> FromFiles(Session session, IMediaFiles files, CancellationToken stop)
    {
        var found = session.Media.Select(m => (Media: m, File: files.FileOf(m))).Where(f => f.File is not null).ToList();
        var sounds = AtOnce.Select(
            found,
            f =>
            {
                using var file = SoundFile.Open(f.File!, f.Media.FileName);
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
        foreach (var media in session.Media)
        {
            if (PeaksOf(media, store) is not { } kept)
            {
                continue;
            }

            using var stream = kept.Open();
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
    /// <returns>How its sound is damaged; none where it is not, or says no checksum and was decoded to its end.</returns>
    /// <exception cref="BadInputException">It cannot be read to its end.</exception>
    public static IReadOnlyList<Finding> Ensure(IMediaStore store, string sha256, string name, CancellationToken stop)
    {
        if (store.DerivedOf(sha256, PeaksName) is not null && store.DerivedOf(sha256, LevelsName) is not null && store.DerivedOf(sha256, SumName) is not null && store.DerivedOf(sha256, FaultsName) is not null && store.DerivedOf(sha256, DamageName) is { } known)
        {
            using var stream = known.Open();
            return JsonSerializer.Deserialize<List<Finding>>(stream, s_json)!;
        }

        using var file = SoundFile.Open(store.FileOf(sha256), name);
        using var summed = file.Flac is { } flac && SummedSource.CanSum(flac) ? new SummedSource(file.Source, flac) : null;
        using var sum = new SampleSum(summed ?? file.Source);
        var faults = new FaultFinder(sum.Channels, sum.Rate);
        var measured = SoundAnalysis.Measure(sum, stop, faults);
        IReadOnlyList<Finding> damage =
        [
            .. file.Missing > 0 ? [new Finding(SoundFileCodes.DecodedInPart, string.Empty, $"{Digits.Grouped(file.Missing)} of its {Digits.Grouped(file.Source.Length)} samples could not be decoded and are silence; ask for the file again.")] : Array.Empty<Finding>(),
            .. summed?.IsWhole() == false ? [new Finding(SoundFileCodes.WrongSum, string.Empty, "Its sound is not what its own checksum says, so it is damaged; ask for the file again.")] : Array.Empty<Finding>(),
        ];
        store.KeepDerived(sha256, SumName, output => output.Write(Encoding.ASCII.GetBytes(sum.Value ?? string.Empty)));
        store.KeepDerived(sha256, FaultsName, output => JsonSerializer.Serialize(output, faults.Result(), s_json));
        store.KeepDerived(sha256, DamageName, output => JsonSerializer.Serialize(output, damage, s_json));
        store.KeepDerived(sha256, LevelsName, output => output.Write(LevelFiles.Write(new Dictionary<string, SoundLevels> { [LevelsName] = measured.Levels })));
        store.KeepDerived(sha256, PeaksName, measured.Peaks.Write);
        return damage;
    }

    /// <summary>Measures all media of a session that were not yet, several at once; what cannot be read to its end is left.</summary>
    public static void EnsureAll(Session session, IMediaStore store, CancellationToken stop)
    {
        var media = session.Media.Where(store.Holds).ToList();
        AtOnce.Each(
            media.Count,
            i =>
            {
                try
                {
                    Ensure(store, media[i].Sha256!, media[i].FileName, stop);
                }
                catch (BadInputException)
                {
                    // Whoever needs its sound says so.
                }
            },
            stop);
    }

    /// <summary>A sum over the samples of a stored sound, the same for every file with the same samples; null where they are all 0, or were not measured.</summary>
    public static string? SumOf(IMediaStore store, string sha256)
    {
        if (store.DerivedOf(sha256, SumName) is not { } kept)
        {
            return null;
        }

        using var reader = new StreamReader(kept.Open(), Encoding.ASCII);
        return reader.ReadToEnd() is { Length: > 0 } sum ? sum : null;
    }

    private static Dictionary<string, T> Kept<T>(Session session, IMediaStore store, string what, Func<IStoredFile, Media, T> read)
    {
        var result = new Dictionary<string, T>();
        foreach (var media in session.Media.Where(store.Holds))
        {
            if (store.DerivedOf(media.Sha256!, what) is { } file)
            {
                result[media.Id] = read(file, media);
            }
        }

        return result;
    }

    private static IStoredFile? PeaksOf(Media media, IMediaStore store) => store.Holds(media) ? store.DerivedOf(media.Sha256!, PeaksName) : null;

    private static SoundLevels LevelsOf(Media media, IMediaStore store, CancellationToken stop)
    {
        Ensure(store, media.Sha256!, media.FileName, stop);
        return LevelFiles.Read(store.DerivedOf(media.Sha256!, LevelsName)!)[LevelsName];
    }
}
