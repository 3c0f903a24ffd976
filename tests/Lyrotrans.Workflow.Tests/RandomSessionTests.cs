using CsCheck;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Audio.Sources;
using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clips;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Proof;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Build.Prints;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Sounds;
using Lyrotrans.Workflow.Signing;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Sessions that nobody thought of: what is built from them passes, and passes for no other session.</summary>
public sealed class RandomSessionTests : IDisposable
{
    private static readonly SampleEncoding[] s_depths = [SampleEncoding.Integer16, SampleEncoding.Integer24, SampleEncoding.Float32];
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-random-").FullName;
    private readonly Media[] _media;

    public RandomSessionTests() => _media =
    [
        Noise("mono", 1, SampleEncoding.Integer24, 48_000, 9000), Noise("stereo", 2, SampleEncoding.Integer16, 48_000, 9001),
        Noise("slow", 1, SampleEncoding.Float32, 44_100, 9000), Noise("fast", 2, SampleEncoding.Integer24, 96_000, 18_000),
    ];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private Media Noise(string id, int channels, SampleEncoding encoding, int rate, int frames)
    {
        var dice = new Random(channels + rate);
        var layout = new PcmLayout(encoding, false, channels, SampleRate.FromHz(rate), 0, frames);
        var sound = Enumerable.Range(0, channels).Select(_ => Enumerable.Range(0, frames).Select(_ => (dice.NextDouble() - 0.5) * 0.9).ToArray()).ToArray();
        var bytes = new byte[layout.DataBytes];
        new PcmEncoder(encoding).Encode(sound, channels, frames, bytes);
        File.WriteAllBytes(Path.Combine(_folder, id + ".wav"), [.. WaveWriter.Head(layout), .. bytes, .. new byte[bytes.Length & 1]]);
        return new Media { Id = id, FileName = id + ".wav", Rate = layout.Rate, Encoding = encoding, Channels = channels, Length = frames };
    }

    private sealed record Cut(int Media, long Length, long Offset, double Gain, int Shape, double FadeIn, double FadeOut, bool Crosses, bool Muted);

    private static readonly Gen<Cut> s_cuts = Gen.Select(
        Gen.Select(Gen.Int[0, 3], Gen.Long[50, 4000], Gen.Long[0, 8000]), Gen.Select(Gen.Int[0, 2], Gen.Double[-18, 3]),
        Gen.Select(Gen.Int[0, 4], Gen.Double.Unit, Gen.Double.Unit), Gen.Bool, Gen.Int[0, 9]).Select((place, gain, fades, crosses, muted) => new Cut(
            place.Item1, place.Item2, place.Item3, gain.Item1 == 0 ? 0 : gain.Item2, fades.Item1, gain.Item1 == 0 ? 0 : fades.Item2 / 2, gain.Item1 == 0 ? 0 : fades.Item3 / 2, crosses, muted == 0));

    private Track Track(Cut[] cuts, int number)
    {
        var clips = new List<Clip>();
        var at = 11L * number;
        foreach (var cut in cuts)
        {
            var media = _media[cut.Media];
            var clip = new Clip
            {
                Id = $"{number}-{clips.Count}",
                Name = $"clip {clips.Count}",
                Media = media.Id,
                Length = cut.Length,
                SourceOffset = cut.Offset,
                GainDb = cut.Gain,
                ChannelMap = [media.Channels - 1],
                Muted = cut.Muted,
                Note = cut.Shape % 3 == 1 ? $"clip {clips.Count} is a placeholder" : string.Empty,
                FadeIn = new Fade((long)(cut.Length * cut.FadeIn), (FadeShape)cut.Shape),
                FadeOut = new Fade((long)(cut.Length * cut.FadeOut), (FadeShape)cut.Shape),
            };
            var overlap = cut.Crosses && clips.Count > 0 && !cut.Muted && !clips[^1].Muted ? Math.Min(clips[^1].FadeOut.Length, clip.FadeIn.Length) : -7;
            clips.Add(clip with { Start = at - overlap });
            at = clips[^1].End;
        }

        return new Track { Id = $"t{number}", Name = $"Track {number}", Lanes = [new Lane("main", clips.ToValueArray())] };
    }

    private DeliveryPlan Plan(Session session, int depth, bool flac, int from) => DeliveryPlan.Make(
        session,
        Preparation.Default(session, SessionFormats.Usual) with
        {
            Encoding = flac && depth == 2 ? SampleEncoding.Integer24 : s_depths[depth],
            Container = flac ? SoundContainer.Flac : SoundContainer.Wav,
            From = (RangeStart)from,
            ChosenStart = -37,
            Tail = 100,
            Tracks = session.Tracks.Select(t => new TrackChoice(t.Id, Treatment.PrintDry)).ToValueArray(),
        },
        new Dictionary<string, MediaSound>());

    private ProofReport Prove(string zip, DeliveryPlan plan) => PackageProof.Prove(new DiskFile(zip), "p.zip", plan, Files, _ => { }, CancellationToken.None);

    private FolderMedia Files => new(_folder, Path.Combine(_folder, "scratch"));

    private static readonly Gen<(Cut[][] Cuts, int Depth, bool Flac, int From)> s_sessions = Gen.Select(s_cuts.Array[1, 6].Array[1, 3], Gen.Int[0, 2], Gen.Bool, Gen.Int[0, 2]);

    private Session Make(Cut[][] cuts) => new()
    {
        Name = "Random",
        Bar1Sample = 501,
        Media = _media.ToValueArray(),
        Tracks = cuts.Select((c, i) => Track(c, i + 1)).ToValueArray(),
    };

    private string Build(DeliveryPlan plan)
    {
        var path = Path.Combine(_folder, $"{Guid.NewGuid():N}.zip");
        PackageFile.Build(plan, Files, path, new PackageMaker(DateTimeOffset.UnixEpoch.AddYears(20), SigningKey.New()), _ => { }, CancellationToken.None);
        return path;
    }

    [Fact]
    public void What_is_built_passes() => s_sessions.Sample(
        s =>
        {
            var session = Make(s.Cuts);
            Assert.Empty(SessionRules.Check(session));
            var plan = Plan(session, s.Depth, s.Flac, s.From);
            var report = Prove(Build(plan), plan);
            Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
            Assert.Equal(s.Cuts.Any(t => t.Any(c => c.Media > 1 && !c.Muted)), report.Rows.Any(r => r.Subject == "Converted sound"));
        },
        iter: Cases.Of(25), threads: 1);

    [Fact]
    public void And_passes_for_no_other_session() => Gen.Select(s_sessions, Gen.Int[0, 1000], Gen.Int[0, 5]).Sample(
        (s, which, what) =>
        {
            var session = Make(s.Cuts);
            var zip = Build(Plan(session, s.Depth, s.Flac, s.From));
            var track = session.Tracks[which % session.Tracks.Count];
            var clips = track.Lanes[0].Clips.ToList();
            var at = which / 7 % clips.Count;
            clips[at] = what switch
            {
                0 => clips[at] with { SourceOffset = clips[at].SourceOffset + 1 },
                1 => clips[at] with { GainDb = clips[at].GainDb + 0.01 },
                2 => clips[at] with { Muted = !clips[at].Muted },
                3 => clips[at] with { FadeIn = clips[at].FadeIn with { Length = clips[at].FadeIn.Length > 0 ? clips[at].FadeIn.Length - 1 : 1 } },
                4 => clips[at] with { Length = clips[at].Length - 1 },
                _ => clips[at] with { Media = clips[at].Media == "mono" ? "slow" : "mono", ChannelMap = [0] },
            };
            var changed = session with { Tracks = session.Tracks.Select(t => t.Id == track.Id ? t with { Lanes = [new Lane("main", clips.ToValueArray())] } : t).ToValueArray() };
            Assert.False(Prove(zip, Plan(changed, s.Depth, s.Flac, s.From)).Passed, $"change {what}");
        },
        iter: Cases.Of(18), threads: 1);

    [Fact]
    public void A_medium_of_another_rate_that_cannot_be_read_any_more_is_a_row_and_no_crash()
    {
        var session = Make([[new Cut(2, 1000, 5, 0, 0, 0, 0, false, false)]]);
        var plan = Plan(session, 1, false, 0);
        var zip = Build(plan);
        File.WriteAllText(Path.Combine(_folder, "slow.wav"), "no sound at all");
        var report = Prove(zip, plan);
        Assert.False(report.Passed);
        Assert.Contains(report.Rows, r => r is { Subject: "slow.wav", What: "conversion", Passed: false });
    }

    /// <summary>The media of a file of clips, as exact as they are before they are rounded to its depth.</summary>
    private sealed class PlannedMedia(Session session, ClipPlan plan, IMediaOpener opener) : IMediaOpener
    {
        public ISampleSource Open(Media media) => new Rendered(new DryPrint(session, plan.Media.First(m => m.Media.Id == media.Id).Sound, plan.Media.First(m => m.Media.Id == media.Id).Range, opener), media);

        private sealed class Rendered(DryPrint print, Media media) : ISampleSource
        {
            public int Channels => print.Channels;

            public long Length => media.Length;

            public SampleRate Rate => media.Rate;

            public void Read(long start, int count, double[][] into) => print.Read(start, count, into);

            public void Dispose() => print.Dispose();
        }
    }

    private double Residual(Session session, ClipChoices choices, out ClipPlan plan)
    {
        var preparation = Preparation.Default(session, SessionFormats.Usual);
        plan = ClipPlan.Make(session, preparation with { Clips = choices, Tracks = session.Tracks.Select(t => new TrackChoice(t.Id, Treatment.KeepClips)).ToValueArray() });
        var (opener, worst) = (new MediaOpener(Files, session.Rate), 0.0);
        foreach (var (id, became) in plan.Tracks)
        {
            var (name, end) = (became.Single(), session.EndSample);
            using var meant = new TrackRender(session, session.Tracks.First(t => t.Id == id), opener);
            using var made = new TrackRender(plan.Session, plan.Session.Tracks.First(t => t.Id == name), new PlannedMedia(session, plan, opener));
            double[][] a = [new double[end]], b = [new double[end]];
            meant.Read(0, (int)end, a);
            made.Read(0, (int)end, b);
            worst = Math.Max(worst, a[0].Zip(b[0], (x, y) => Math.Abs(x - y)).Max());
        }

        return worst;
    }

    [Fact]
    public void Clips_of_another_rate_lie_on_their_very_sample_in_their_own_media_and_whole_media_say_by_how_much_not() => Gen.Select(s_sessions, Gen.Int[0, 4], Gen.Bool).Sample(
        (s, handle, rendered) =>
        {
            var session = Make([.. s.Cuts.Select(t => t.Select(c => c with { Shape = (int)FadeShape.Linear, Crosses = rendered && c.Crosses }).ToArray())]);
            var choices = Choose.Aaf with { Trimmed = true, Handle = handle * 331, Fades = rendered ? FadeForm.Rendered : FadeForm.Transitions, RenderGain = rendered };
            Assert.True(Residual(session, choices, out var trimmed) < 1e-9, $"{Residual(session, choices, out _)}");
            Assert.Empty(trimmed.Shifts);

            var off = Residual(session, choices with { Trimmed = false, Fades = FadeForm.Transitions, RenderGain = false }, out var whole);
            var clips = session.Tracks.SelectMany(t => t.Sounding!.Clips).Where(c => !new RateGrid(session.Media.First(m => m.Id == c.Media).Rate, session.Rate).Exact(c.SourceOffset).IsWhole).ToList();
            Assert.Equal(clips.Select(c => c.Name), whole.Shifts.Select(h => h.Clip));
            Assert.All(whole.Shifts, h => Assert.InRange(Math.Abs(h.Samples), 1e-3, 0.5));
            Assert.True(rendered || clips.Exists(c => !c.Muted) || off < 1e-9);
        },
        iter: Cases.Of(14), threads: 1);
}
