using System.Diagnostics;
using System.Globalization;
using Lyrotrans.Audio.Instruments;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Bench;

/// <summary>The mix of a session and each of its tracks after its effects, from a place on, as listening makes them: how long until the first sound, and how many times as fast as it plays.</summary>
internal static class MixBench
{
    private const int RingSeconds = 2;
    private const int RunInSeconds = 1;
    private const int Seconds = 5;
    private const int Block = 2048;
    private const int Runs = 7;

    public static void Run(string folder, double from)
    {
        var loaded = SessionLoader.Load(folder, Path.GetTempPath());
        var session = loaded.Session;
        var paths = SignalPaths.Of(session);
        var sources = session.Tracks.Where(t => t.Kind is TrackKind.Audio or TrackKind.Notes).Select(t => t.Id).ToHashSet();
        Line("the mix, first time", session, paths.Master, MixPoint.AfterPan, sources, loaded, from, runs: 1);
        Line("the mix", session, paths.Master, MixPoint.AfterPan, sources, loaded, from);
        Line("the mix on one processor", session, paths.Master, MixPoint.AfterPan, sources, loaded, from, threads: 1);
        foreach (var track in paths.Order)
        {
            Line($"{track.Kind} {track.Name}", session, track, MixPoint.AfterEffects, sources.Contains(track.Id) ? [track.Id] : sources, loaded, from);
        }
    }

    private static void Line(string name, Session session, Track track, MixPoint point, HashSet<string> sounding, LoadedSession loaded, double from, int? threads = null, int runs = Runs)
    {
        var start = (long)(from * session.Rate.PerSecond.ToDouble());
        var run = session.Rate.SamplesIn(RunInSeconds).RoundToEven();
        var (first, rest) = (double.MaxValue, double.MaxValue);
        for (var i = 0; i < runs; i++)
        {
            var clock = Stopwatch.StartNew();
            using var render = new MixRender(session, track, point, sounding, new MixSounds(new MediaOpener(loaded.Media, session.Rate), new SoundFontSounds(RingSeconds)), start, run, threads ?? Environment.ProcessorCount);
            var sound = Enumerable.Range(0, render.Channels).Select(_ => new double[Block]).ToArray();
            render.Read(start, Block, sound);
            var heard = clock.Elapsed.TotalSeconds;
            for (var at = Block; at < session.Rate.SamplesIn(Seconds).ToDouble(); at += Block)
            {
                render.Read(start + at, Block, sound);
            }

            (first, rest) = (Math.Min(first, heard), Math.Min(rest, clock.Elapsed.TotalSeconds - heard));
        }

        Console.WriteLine(string.Create(CultureInfo.InvariantCulture, $"{name}: first sound after {first * 1000:0} ms, then {(Seconds - 0.04) / rest:0} times as fast as it plays (best of {runs})"));
    }
}
