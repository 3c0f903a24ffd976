using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Wave;

namespace Lyrotrans.Mutate;

/// <summary>A session of a second with one of everything that can be delivered, and media of noise: small, because it is proved some thousand times.</summary>
internal static class SmallSession
{
    private const int Second = 48_000;

    public static (Session Session, IReadOnlyDictionary<string, string> Paths) Write(string folder)
    {
        var paths = new Dictionary<string, string>
        {
            ["horn"] = Noise(folder, "horn.wav", 1, SampleRate.Hz48000, 1),
            ["piano"] = Noise(folder, "piano.wav", 2, SampleRate.Hz48000, 2),
            ["bell"] = Noise(folder, "bell.wav", 1, SampleRate.Hz44100, 3),
        };
        return (new Session
        {
            Name = "Orrery Suite",
            Start = Timecode.FromLabel(10, 0, 0, 0, FrameRate.Fps25),
            Bar1Sample = 4800,
            Tempo = new TempoMap([new TempoPoint(0, 90, Ramp: true), new TempoPoint(2, 120)]),
            Meters = new MeterMap([new MeterChange(1, 4, 4), new MeterChange(2, 7, 8)]),
            Keys = [new KeyChange(0, 2, false)],
            Markers = [new Marker("k", "here, \"now\"", 9600) { By = "Edda Roe", Date = "2031-03-02 10:05" }, new Marker("l", "there", 20_000, 4000)],
            Comments = [new Comment("by", "the hall")],
            Picture = new PictureReference("reel.mov", Timecode.FromLabel(10, 0, 0, 5, FrameRate.Fps25), 20),
            Media =
            [
                new Media { Id = "horn", FileName = "horn.wav", Encoding = SampleEncoding.Integer24, Length = Second },
                new Media { Id = "piano", FileName = "piano.wav", Encoding = SampleEncoding.Integer24, Channels = 2, Length = Second },
                new Media { Id = "bell", FileName = "bell.wav", Encoding = SampleEncoding.Integer24, Rate = SampleRate.Hz44100, Length = Second },
            ],
            Tracks =
            [
                Track("horn", "Horn", 1,
                [
                    new Clip { Id = "h1", Name = "horn 1", Media = "horn", Start = 2000, Length = 12_000, SourceOffset = 100, GainDb = -1.5, FadeIn = new Fade(480, FadeShape.EqualPower), FadeOut = new Fade(960) },
                    new Clip { Id = "h2", Name = "horn 2", Media = "horn", Start = 20_000, Length = 9000, SourceOffset = 20_000, GainCurve = new Automation([new AutomationPoint(0, 0), new AutomationPoint(4000, -6)]) },
                ]) with { PanAutomation = new Automation([new AutomationPoint(0, -0.5), new AutomationPoint(30_000, 0.5)]), FaderAutomation = new Automation([new AutomationPoint(0, -3), new AutomationPoint(9000, 0)]), Sends = [new Send("hall", -6)] },
                Track("piano", "Piano", 2, [new Clip { Id = "p1", Name = "piano", Media = "piano", ChannelMap = [0, 1], Start = 6000, Length = 20_000, SourceOffset = 500 }]) with { Pan = 0.25, FaderDb = -2 },
                Track("bell", "Bell", 1, [new Clip { Id = "b1", Name = "bell", Media = "bell", Start = 9000, Length = 15_000, SourceOffset = 300, FadeOut = new Fade(300, FadeShape.S) }]) with
                {
                    Inserts = [new Insert("gain", [new Parameter("gain dB", -3)])], Sends = [new Send("hall", -9, PreFader: true)],
                },
                Track("drum", "Drum", 1, [new Clip { Id = "d1", Name = "drum", Media = "horn", Start = 0, Length = 8000, SourceOffset = 30_000 }]),
                new Track
                {
                    Id = "harp",
                    Name = "Harp",
                    Kind = TrackKind.Notes,
                    Channels = 2,
                    Parts =
                    [
                        new NotePart
                        {
                            Id = "n1", Name = "harp", LengthQuarters = 1, Notes = [new Note(0, 200, 1, 60, 64), new Note(240, 100, 1, 67, 80)],
                            Controls = [new NoteControl(10, NoteControlKind.Controller, 1, 7, 100)],
                        },
                    ],
                },
                new Track { Id = "hall", Name = "Hall", Kind = TrackKind.Return, Channels = 2, Inserts = [new Insert("gain", [new Parameter("gain dB", -1)])] },
                new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2 },
            ],
        }, paths);
    }

    private static Track Track(string id, string name, int channels, ValueArray<Clip> clips) => new() { Id = id, Name = name, Channels = channels, Lanes = [new Lane("comp", clips)] };

    private static string Noise(string folder, string name, int channels, SampleRate rate, int seed)
    {
        var path = Path.Combine(folder, name);
        var random = new Random(seed);
        var bytes = new byte[Second * channels * 3];
        for (var i = 0; i < bytes.Length; i += 3)
        {
            var value = random.Next(-2_000_000, 2_000_000);
            (bytes[i], bytes[i + 1], bytes[i + 2]) = ((byte)value, (byte)(value >> 8), (byte)(value >> 16));
        }

        File.WriteAllBytes(path, [.. WaveWriter.Head(new PcmLayout(SampleEncoding.Integer24, false, channels, rate, 0, Second)), .. bytes]);
        return path;
    }
}
