using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Bench;

/// <summary>Files of many clips, written and read in this process: half of the clips with a gain, a quarter with fades, a tenth crossing the next.</summary>
internal static class ClipsBench
{
    private const int Runs = 15;
    private const int Tracks = 40;

    public static void Run(string id, int clips)
    {
        var format = SessionFormats.OfClips.Single(f => f.Id.Equals(id, StringComparison.OrdinalIgnoreCase));
        var session = Many(clips);
        var preparation = Preparation.Default(session, format.Clips) with { Tracks = [.. session.Tracks.Select(t => new TrackChoice(t.Id, Treatment.KeepClips))] };
        var (planned, plan) = Best(() => DeliveryPlan.Make(session, preparation, new Dictionary<string, MediaSound>()));
        var files = new MappedMedia(new Dictionary<string, string>(), Path.GetTempPath());
        var opener = new MediaOpener(files, session.Rate);
        var (written, bytes) = Best(() =>
        {
            var output = new MemoryStream();
            ClipsFile.Write(plan, 0, opener, files, output, CancellationToken.None);
            return output;
        });
        var (read, found) = Best(() =>
        {
            bytes.Position = 0;
            return format.Open(bytes, "many").ReadSession().Session;
        });
        Console.WriteLine(string.Create(CultureInfo.InvariantCulture,
            $"{id}, {found.Tracks.Sum(t => t.Lanes.Sum(l => l.Clips.Count))} clips, {bytes.Length / 1e6:0.0} MB: planned in {planned:0.00} s, written in {written:0.00} s, read in {read:0.00} s (best of {Runs})"));
    }

    private static (double Seconds, T Made) Best<T>(Func<T> make)
    {
        var (best, made) = (double.MaxValue, default(T)!);
        for (var i = 0; i < Runs; i++)
        {
            GC.Collect();
            var clock = Stopwatch.StartNew();
            made = make();
            best = Math.Min(best, clock.Elapsed.TotalSeconds);
        }

        return (best, made);
    }

    private static Session Many(int clips) => new()
    {
        Name = "many clips",
        Rate = SampleRate.Hz48000,
        Tempo = TempoMap.Constant(120),
        Meters = MeterMap.FourFour,
        Media = [.. Enumerable.Range(0, Tracks).Select(t => new Media { Id = $"m{t}", FileName = $"track {t}.wav", Rate = SampleRate.Hz48000, Length = 100_000_000, Place = MediaPlace.Missing })],
        Tracks = [.. Enumerable.Range(0, Tracks).Select(t => new Track { Id = $"t{t}", Name = $"Track {t}", Kind = TrackKind.Audio, Channels = 1, Lanes = [new Lane("main", Clips(t, clips / Tracks))] })],
    };

    private static ValueArray<Clip> Clips(int track, int count)
    {
        var (clips, at) = (new List<Clip>(), 0L);
        for (var i = 0; i < count; i++)
        {
            var crosses = i % 10 == 9;
            clips.Add(new Clip
            {
                Id = $"t{track}c{i}",
                Name = $"clip {i}",
                Media = $"m{track}",
                Start = at,
                Length = 4801,
                SourceOffset = i * 5003L % 90_000_000,
                GainDb = i % 2 == 1 ? -3.5 : 0,
                FadeIn = i % 10 == 0 && i > 0 ? new Fade(480, FadeShape.EqualPower) : i % 4 == 0 ? new Fade(240, FadeShape.Linear) : Fade.None,
                FadeOut = crosses ? new Fade(480, FadeShape.EqualPower) : Fade.None,
            });
            at += 4801 - (crosses ? 480 : 0) + (i % 3 == 0 && !crosses ? 100 : 0);
        }

        return clips.ToValueArray();
    }
}
