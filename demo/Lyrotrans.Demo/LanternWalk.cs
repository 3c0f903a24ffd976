using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Signing;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Demo;

/// <summary>"Lantern walk", as the Tarn Lane mixing room sends it: a package by another room's key, for a first look and a reply. One of each: clips, a dry print, a print through effects, notes, a return, a guide mix and a click.</summary>
internal static class LanternWalk
{
    private const string Title = "Lantern walk";

    // The day before the suite was recorded; only its key is another each time.
    private static readonly DateTimeOffset s_made = new(2026, 3, 20, 9, 0, 0, TimeSpan.Zero);

    /// <summary>Writes the package; what it was made of stays in the other room.</summary>
    public static void Write(string folder)
    {
        var home = Directory.CreateTempSubdirectory("lyro-lantern-").FullName;
        try
        {
            File.WriteAllBytes(Path.Combine(home, "Lantern_walk.session.json"), SessionDocumentWriter.Write(Make(home)));
            var loaded = SessionLoader.Load(home, Path.Combine(home, "scratch"));
            var plan = DeliveryPlan.Make(loaded.Session, Prepared(Preparation.Default(loaded.Session, SessionFormats.Usual)), SoundMeasures.FromFiles(loaded.Session, loaded.Media, CancellationToken.None));
            Directory.CreateDirectory(folder);
            PackageFile.Build(plan, loaded.Media, Path.Combine(folder, "Lantern_walk.zip"), new PackageMaker(s_made, SigningKey.New()), _ => { }, CancellationToken.None);
        }
        finally
        {
            Directory.Delete(home, recursive: true);
        }
    }

    private static Preparation Prepared(Preparation preparation) => preparation with
    {
        Mix = new MixChoices(Guide: true),
        Click = new ClickChoices(Print: true),
        Clips = preparation.Clips with { Trimmed = true },
        Accepted = ["instrument Small celesta"],
        Tracks = [.. preparation.Tracks.Select(c => c.TrackId switch
        {
            "steps" => c with { Treatment = Treatment.KeepClips },
            "drone" or "stairwell" => c with { Treatment = Treatment.PrintThrough },
            _ => c,
        })],
    };

    private static Session Make(string home)
    {
        var media = new DemoMedia(home, 1);
        var (steps, glass, drone) = (new ClipMaker("steps", 1), new ClipMaker("glass", 1), new ClipMaker("drone", 1));
        var step = media.Add("step.wav", 1, 501, (s, t) => [s.Struck(t, 95, [1, 1.7, 2.9], 0.08, 0.6, 2)]);
        for (var i = 0; i < 12; i++)
        {
            steps.Add(step, 1 + (i * 0.714), 0.62, 0, i % 2 == 0 ? 0 : -3, 48, 960);
        }

        glass.Add(media.Add("glass.wav", 9, 502, (s, t) => [s.Sustained(t, 587, 0.3, 0.2)]), 2, 8, 0.5, 0, 4800, 9600, FadeShape.EqualPower);
        drone.Add(media.Add("drone.wav", 12, 503, (s, t) => [s.Sustained(t, 73, 0.6, 0.15), s.Sustained(t, 73.4, 0.6, 0.15)]), 0, 11, 0.25, 0, 9600, 24000);
        const int ticks = 480;
        var notes = Enumerable.Range(0, 8).Select(i => new Note(i * 2 * ticks, ticks, 1, 74 + (i % 3 * 5), 70 + i)).ToArray();
        return new Session
        {
            Name = Title,
            Start = Timecode.FromLabel(11, 0, 0, 0, FrameRate.Fps25),
            Tempo = TempoMap.Constant(84),
            Media = [.. media.All],
            Tracks =
            [
                new Track { Id = "steps", Name = "Footsteps", Output = "master", FaderDb = -2, Sends = [new Send("stairwell", -8)], Lanes = [steps.Lane("main")] },
                new Track { Id = "glass", Name = "Glass harp", Output = "master", Pan = -0.3, Inserts = [new Insert("equaliser", [new Parameter("bell Hz", 2400), new Parameter("bell dB", -3)])], Sends = [new Send("stairwell", -4)], Lanes = [glass.Lane("main")] },
                new Track { Id = "drone", Name = "Low drone", Channels = 2, Output = "master", FaderDb = -6, Inserts = [new Insert("drive and cabinet", [new Parameter("drive dB", 8)])], Lanes = [drone.Lane("main")] },
                new Track { Id = "celesta", Name = "Small celesta", Kind = TrackKind.Notes, Channels = 0, Output = "master", Parts = [new NotePart { Id = "celesta-1", Name = "Small celesta", StartQuarter = 2, LengthQuarters = 18, TicksPerQuarter = ticks, Notes = [.. notes] }] },
                new Track { Id = "stairwell", Name = "Stairwell", Kind = TrackKind.Return, Channels = 2, Output = "master", Inserts = [new Insert("reverb", [new Parameter("time s", 1.6)])] },
                new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2 },
            ],
            Markers = [new Marker("m1", "Lantern in the stairwell", 96_000), new Marker("m2", "Out into the yard", 384_000)],
        };
    }
}
