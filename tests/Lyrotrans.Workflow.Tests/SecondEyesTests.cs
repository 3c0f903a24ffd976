using System.IO.Compression;
using System.Text;
using System.Text.Json;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Effects;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Random sessions, rendered by a program of another language that knows nothing but the page of the document: what a package holds is the same sound.</summary>
public sealed class SecondEyesTests : IDisposable
{
    // What is rounded away below 2 in 32 bits of float, less than a step of 24 bits, and a step and a half of 16 with flat dither. The bound that is promised for converted sound is −120.
    private static readonly (SampleEncoding Encoding, double MostDb)[] s_depths = [(SampleEncoding.Float32, -138), (SampleEncoding.Integer24, -139), (SampleEncoding.Integer16, -86.7)];
    private const int Frames = 3000;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-eyes-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    public static TheoryData<int> Seeds => new(Enumerable.Range(1, 6));

    [Theory]
    [MemberData(nameof(Seeds))]
    public void They_hear_the_same(int seed)
    {
        var session = new Maker(seed, _folder).Session();
        Assert.Empty(SessionRules.Check(session));
        File.WriteAllBytes(Path.Combine(_folder, "s.session.json"), SessionDocumentWriter.Write(session));
        var (encoding, mostDb) = s_depths[seed % 3];
        var treatments = new[] { Treatment.PrintMixed, Treatment.PrintDry, Treatment.PrintThrough };
        var plan = DeliveryPlan.Make(
            session,
            Preparation.Default(session, SessionFormats.Usual) with
            {
                Encoding = encoding,
                Overs = OversPolicy.Lower,
                Tail = 200,
                Mix = new MixChoices(Guide: true),
                Tracks = session.Tracks.Where(t => t.Kind != TrackKind.Master).Select((t, i) => new TrackChoice(t.Id, t.Kind == TrackKind.Audio ? treatments[(i + seed) % 3] : treatments[(i + seed) % 2 * 2])).ToValueArray(),
            },
            new Dictionary<string, MediaSound>());
        var zip = Path.Combine(_folder, "p.zip");
        PackageFile.Build(plan, new FolderMedia(_folder, Path.Combine(_folder, "scratch")), zip, DemoSession.Maker, _ => { }, CancellationToken.None);
        ZipFile.ExtractToDirectory(zip, Path.Combine(_folder, "package"));
        var (code, output, errors) = OtherProgram.Run("/usr/bin/python3", OtherProgram.Script("render.py"), _folder, Path.Combine(_folder, "package", plan.Root));
        Assert.True(code == 0, errors);
        var told = JsonDocument.Parse(output).RootElement.EnumerateArray().ToList();
        Assert.Equal(plan.Files.Count(f => f.IsSound), told.Count);
        Assert.Contains(told, t => t.GetProperty("peak").GetDouble() > 0.05);

        // What is above full scale in float is rounded by as much more.
        double Over(JsonElement told) => encoding.IsFloat() ? Math.Max(0, Decibels.FromRatio(told.GetProperty("peak").GetDouble())) : 0;
        Assert.All(told, t => Assert.True(t.GetProperty("difference").GetDouble() - Over(t) <= mostDb, Encoding.UTF8.GetString(output)));
    }

    [Fact]
    public void Every_effect_is_among_them()
    {
        var heard = Seeds.SelectMany(s => new Maker(s.Data, _folder).Session().Tracks).SelectMany(t => t.Inserts).Select(i => i.Effect).ToHashSet();
        Assert.Equal(EffectCatalogue.All.Select(e => e.Name).Order(StringComparer.Ordinal), heard.Order(StringComparer.Ordinal));
    }

    /// <summary>Makes a session and its media, as the dice fall.</summary>
    private sealed class Maker(int seed, string folder)
    {
        private static readonly int[] s_rates = [48_000, 44_100, 88_200, 96_000];
        private static readonly PanLaw[] s_laws = Enum.GetValues<PanLaw>();
        private readonly Random _dice = new(seed);

        public Session Session()
        {
            var media = Enumerable.Range(0, 4).Select(Media).ToList();
            var returns = Enumerable.Range(1, 2).Select(i => Through(new Track { Id = $"r{i}", Name = $"Return {i}", Kind = TrackKind.Return, Channels = i == 1 ? 2 : 1, Output = "master" })).ToList();
            var bus = Through(new Track { Id = "bus", Name = "Bus", Kind = TrackKind.Bus, Channels = 2, Output = "master" });
            var tracks = Enumerable.Range(1, 4).Select(i => Audio(i, media)).ToList();
            return new Session
            {
                Name = "Eyes",
                PanLaw = s_laws[_dice.Next(s_laws.Length)],
                Media = media.ToValueArray(),
                Tracks = [.. tracks, bus, .. returns, new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2 }],
            };
        }

        // Sines well below half of any rate, from silence to silence, so that every good converter makes the same of them.
        private Media Media(int i)
        {
            var (rate, channels) = (s_rates[i], i == 3 ? 4 : 1 + (i % 2));
            var layout = new PcmLayout(i == 1 ? SampleEncoding.Integer24 : SampleEncoding.Float32, false, channels, SampleRate.FromHz(rate), 0, Frames);
            var sound = Enumerable.Range(0, channels).Select(_ =>
            {
                var sines = Enumerable.Range(0, 8).Select(_ => (Hz: 60 + (_dice.NextDouble() * 9000), Phase: _dice.NextDouble() * 6.28)).ToList();
                return Enumerable.Range(0, Frames).Select(n => 0.06 * Math.Pow(Math.Sin(Math.PI * (n + 0.5) / Frames), 2) * sines.Sum(s => Math.Sin((2 * Math.PI * s.Hz * n / rate) + s.Phase))).ToArray();
            }).ToArray();
            var bytes = new byte[layout.DataBytes];
            new PcmEncoder(layout.Encoding).Encode(sound, channels, Frames, bytes);
            File.WriteAllBytes(Path.Combine(folder, $"m{i}.wav"), [.. WaveWriter.Head(layout), .. bytes, .. new byte[bytes.Length & 1]]);
            return new Media { Id = $"m{i}", FileName = $"m{i}.wav", Rate = layout.Rate, Encoding = layout.Encoding, Channels = channels, Length = Frames };
        }

        private Track Audio(int number, List<Media> media)
        {
            var channels = number == 4 ? 4 : 1 + (number % 2);
            var clips = new List<Clip>();
            var at = _dice.NextInt64(0, 900);
            for (var i = 0; i < 4; i++)
            {
                var medium = number == 4 ? media[3] : media[_dice.Next(4)];
                var length = _dice.NextInt64(800, 2400);
                clips.Add(new Clip
                {
                    Id = $"{number}-{i}",
                    Name = $"clip {i}",
                    Media = medium.Id,
                    ChannelMap = Enumerable.Range(0, channels).Select(c => number == 4 ? c : _dice.Next(medium.Channels)).ToValueArray(),
                    Start = at,
                    Length = length,
                    SourceOffset = _dice.NextInt64(0, 1200),
                    GainDb = _dice.Next(3) == 0 ? 0 : (_dice.NextDouble() * 15) - 12,
                    GainCurve = _dice.Next(3) == 0 ? Curve(0, length, 6) : null,
                    FadeIn = Fade(length / 3),
                    FadeOut = Fade(length / 3),
                    Muted = _dice.Next(9) == 0,
                });
                at += length + _dice.NextInt64(0, 300);
            }

            return Through(new Track
            {
                Id = $"t{number}",
                Name = $"Track {number}",
                Channels = channels,
                Lanes = [new Lane("main", clips.ToValueArray())],
                Output = _dice.Next(2) == 0 ? "bus" : "master",
                Sends = [new Send("r1", -6 + (_dice.NextDouble() * 6), PreFader: _dice.Next(2) == 0) { Pan = Place() }, new Send("r2", -12, LevelAutomation: Curve(0, 8000, 9))],
            });
        }

        private Track Through(Track track) => track with
        {
            FaderDb = (_dice.NextDouble() * 12) - 9,
            FaderAutomation = _dice.Next(2) == 0 ? Curve(0, 8000, 9) : null,
            Pan = Place(),
            PanAutomation = _dice.Next(2) == 0 ? Curve(0, 8000, 1) : null,
            Inverted = _dice.Next(3) == 0,
            Inserts = Enumerable.Range(0, _dice.Next(3)).Select(_ => Effect()).ToValueArray(),
        };

        // Any effect; each of its settings as usual, or anywhere in the part of its range that is heard in a fifth of a second.
        private Insert Effect()
        {
            var kind = EffectCatalogue.All[_dice.Next(EffectCatalogue.All.Count)];
            return new Insert(kind.Name, kind.Parameters.Where(p => p.Name == "time s" || _dice.Next(3) > 0).Select(p => new Parameter(p.Name, p.Name switch
            {
                EffectKind.Oversampling => 1 << _dice.Next(3),
                "time ms" => 1 + (_dice.NextDouble() * 30),
                "feedback" => _dice.NextDouble() * 0.6,
                "time s" => 0.1 + (0.2 * _dice.NextDouble()),
                "bell Q" => 0.1 + (4 * _dice.NextDouble()),
                "pre-delay ms" => _dice.NextDouble() * 20,
                "look-ahead ms" => _dice.NextDouble() * 3,
                "threshold dB" or "ceiling dB" => -30 * _dice.NextDouble(),
                "drive dB" => 24 * _dice.NextDouble(),
                _ when p.Name.EndsWith(" dB", StringComparison.Ordinal) => Math.Clamp((_dice.NextDouble() * 12) - 6, p.Least, p.Most),
                _ when p.Name.EndsWith(" Hz", StringComparison.Ordinal) => Math.Max(p.Least, 20) * Math.Pow(p.Most / Math.Max(p.Least, 20), _dice.NextDouble()),
                _ => p.Least + (_dice.NextDouble() * (p.Most - p.Least)),
            })).ToValueArray());
        }

        private double Place() => (_dice.NextDouble() * 2) - 1;

        private Fade Fade(long most) => _dice.Next(7) switch
        {
            0 => Core.Sessions.Fade.None,
            6 => new Fade(_dice.NextInt64(1, most), FadeShape.Sampled, [0, _dice.NextDouble(), 1], [0, _dice.NextDouble(), 1]),
            var shape => new Fade(_dice.NextInt64(1, most), (FadeShape)(shape - 1)),
        };

        private Automation Curve(long from, long to, double most) => new(
            Enumerable.Range(0, 4).Select(i => new AutomationPoint(from + (i * (to - from) / 4) + _dice.NextInt64(0, (to - from) / 5), ((_dice.NextDouble() * 2) - 1) * most)).ToValueArray(),
            _dice.Next(4) == 0 ? Interpolation.Step : Interpolation.Linear);
    }
}
