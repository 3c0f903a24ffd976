using System.Security.Cryptography;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;

namespace Lyrotrans.Demo;

/// <summary>A second reel that came as it was: whatever goes wrong seldom and goes wrong here once, and a sheet of a room that takes little. Of one length at every scale.</summary>
internal sealed class OddReel
{
    private const int Ticks = 480;
    private readonly string _folder;
    private readonly DemoMedia _media;
    private readonly List<Track> _tracks = [];
    private readonly List<Media> _coded = [];

    private OddReel(string folder) => (_folder, _media) = (folder, new DemoMedia(folder, 1));

    public static void Write(string folder) => new OddReel(folder).Write();

    private void Write()
    {
        // A beat at 120 under a map that says 76; its clip lies between two frames.
        var hit = _media.Add("beat.wav", 1, 401, (s, t) => [s.Struck(t, 180, [1, 1.9], 0.1, 0.6, 2)]);
        var beats = new ClipMaker("beat", 1);
        for (var i = 0; i < 36; i++)
        {
            beats.Add(hit, 0.257 + (i * 0.5), 0.4, 0, 0, 48, 480);
        }

        _tracks.Add(new Track { Id = "beat", Name = "Beat", Channels = 1, Output = "master", Lanes = [beats.Lane("main")] });
        Audio("Café at the far left of the dome", _media.Add("cafe.wav", 8, 402, (s, t) => [s.Sustained(t, 233, 0.6, 0.2)]), 1);
        Audio("Hum", Coded(_media.Add("hum.wav", 6, 403, (s, t) => [s.Sustained(t, 110, 0.5, 0.2)])), 2);
        Audio("Pressed", _media.Add("pressed.wav", 6, 404, (s, t) => [s.Sustained(t, 165, 0.7, 0.3)]), 3, t => t with { Inserts = [new Insert("limiter", [new Parameter("ceiling dB", -6)], false, 0)] });
        Audio("Other way round", _media.Add("turned.wav", 6, 405, (s, t) => [s.Sustained(t, 147, 0.7, 0.2)]), 4, t => t with { Inverted = true });
        Audio("Small bell", _media.Add("small-bell.wav", 6, 406, (s, t) => [s.Struck(t, 990, [1, 2.76], 1.2, 0.3, 2)]), 5, t => t with { Sends = [new Send("small-room", -6)] });
        _tracks.Add(Keys());
        _tracks.Add(new Track { Id = "small-room", Name = "Small room", Kind = TrackKind.Return, Channels = 2, Output = "master", Inserts = [new Insert("reverb", [new Parameter("time s", 0.8)])] });
        _tracks.Add(new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2, Inserts = [new Insert("limiter", [new Parameter("ceiling dB", -1)])] });
        DemoPicture.Write(Path.Combine(_folder, "picture", "reel-two.mov"), 384, FrameRate.Fps24, "10:10:00:00", sound: false);
        var session = new Session
        {
            Name = "Second reel",
            Start = Timecode.FromLabel(10, 10, 0, 0, FrameRate.Fps25),
            Tempo = TempoMap.Constant(76),
            Media = [.. _media.All.Where(m => m.Id != "hum"), .. _coded],
            Tracks = [.. _tracks],
        };
        File.WriteAllBytes(Path.Combine(_folder, "Second_reel.session.json"), SessionDocumentWriter.Write(session));
        File.WriteAllText(
            $"{_folder}.sheet.json",
            """
            { "sheetVersion": 1, "name": "Old picture desk", "notes": "Small files, short plain names, places in frames.", "largestFile": 1048576, "longestName": 12, "letters": "plain", "frameRate": "24",
              "audio": "keep clips", "clips": { "frameUnits": true }, "mix": { "stems": true, "master": "through" } }

            """);
    }

    private void Audio(string name, Media media, double at, Func<Track, Track>? change = null)
    {
        var id = name.Split(' ')[0].ToLowerInvariant();
        var clips = new ClipMaker(id, 1);
        clips.Add(media, at, (media.Length / (double)media.Rate.HeaderHz) - 1, 0.5, 0, 480, 960);
        var track = new Track { Id = id, Name = name, Channels = 1, Output = "master", Lanes = [clips.Lane("main")] };
        _tracks.Add(change is null ? track : change(track));
    }

    /// <summary>What somebody sent as a lossy file.</summary>
    private Media Coded(Media media)
    {
        var (from, to) = (Path.Combine(_folder, media.FileName), Path.Combine(_folder, "media", "hum.ogg"));
        DemoTool.Run(["-i", from, "-c:a", "libvorbis", "-fflags", "+bitexact", "-flags", "+bitexact", to]);
        File.Delete(from);
        var coded = media with { FileName = "media/hum.ogg", Encoding = SampleEncoding.Float32, TimeReference = null, Sha256 = Convert.ToHexStringLower(SHA256.HashData(File.ReadAllBytes(to))) };
        _coded.Add(coded);
        return coded;
    }

    /// <summary>Notes as old programs leave them: past the end of their part, never ended, one inside another, parts over each other, an instrument by its number.</summary>
    private static Track Keys()
    {
        static NotePart Part(string id, string name, long start, long quarters, params Note[] notes) =>
            new() { Id = id, Name = name, StartQuarter = start, LengthQuarters = quarters, TicksPerQuarter = Ticks, Notes = [.. notes] };
        var first = Part("keys-1", "Keys, first", 0, 8, new Note(0, 4 * Ticks, 1, 60, 80), new Note(Ticks, Ticks, 1, 60, 70), new Note(9 * Ticks, Ticks, 1, 64, 80));
        var second = Part("keys-2", "Keys, second", 6, 200, new Note(2 * Ticks, 150 * Ticks, 1, 67, 80));
        return new Track
        {
            Id = "keys",
            Name = "Keys",
            Kind = TrackKind.Notes,
            Channels = 0,
            Output = "master",
            Parts = [first with { Controls = [new NoteControl(0, NoteControlKind.Program, 1, 0, 5)] }, second],
        };
    }
}
