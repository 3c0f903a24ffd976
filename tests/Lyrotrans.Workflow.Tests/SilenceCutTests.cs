using CsCheck;
using Lyrotrans.Audio.Pcm;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Cutting;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Files from zero that become clips again at their silences.</summary>
public sealed class SilenceCutTests : IDisposable
{
    private static readonly CutRule s_exact = new(null, 10, 0, 0, 0);
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-cuts-").FullName;
    private readonly Dictionary<string, string> _paths = [];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    /// <summary>A file of noise with silences between, as it comes in; its SHA-256 is its name.</summary>
    private IntakeItem Sound(string name, int seed, long hz = 48_000, int channels = 2, double faint = 0)
    {
        var dice = new Random(seed);
        var planar = Enumerable.Range(0, channels).Select(_ => new double[96_000]).ToArray();
        for (var (at, loud) = (0, dice.Next(2) == 0); at < 96_000; loud = !loud)
        {
            var run = Math.Min(dice.Next(1, 9000), 96_000 - at);
            for (var i = at; i < at + run; i++)
            {
                foreach (var channel in planar)
                {
                    channel[i] = (loud ? 0.5 : faint) * ((2 * dice.NextDouble()) - 1);
                }
            }

            at += run;
        }

        var layout = new PcmLayout(SampleEncoding.Integer24, false, channels, SampleRate.FromHz(hz), 0, 96_000);
        var bytes = new byte[layout.DataBytes];
        new PcmEncoder(layout.Encoding).Encode(planar, channels, 96_000, bytes);
        var path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, [.. WaveWriter.Head(layout), .. bytes]);
        var item = Examiner.Examine(new DiskFile(path), name, name);
        _paths[item.Id] = path;
        return item;
    }

    private static JoinedSession Join(IntakeState state) => SessionJoin.Join(state, _ => throw new InvalidOperationException());

    private MappedMedia Files => new(_paths, _folder);

    private IntakeState Cut(IntakeState state, CutRule rule, out IReadOnlyList<CutTrack> found)
    {
        var joined = Join(state with { Cuts = [] });
        found = SilenceCuts.Measure(joined.Session, SilenceCuts.Of(joined.Session), rule, Files, CancellationToken.None);
        var cut = found.Where(c => c.IsCut).ToList();
        return new IntakeEdits(state, joined.Session, joined).Cut([.. cut.Select(c => c.Cut)], cut.Sum(c => c.Pieces.Count)).After!;
    }

    private double[][] Rendered(Session session)
    {
        using var render = new TrackRender(session, session.Tracks[0], new MediaOpener(Files, session.Rate));
        var into = Enumerable.Range(0, render.Channels).Select(_ => new double[100_000]).ToArray();
        render.Read(0, 100_000, into);
        return into;
    }

    [Fact]
    public void At_digital_silence_without_fades_the_clips_are_the_file_to_the_bit() => Gen.Int[0, 100_000].Sample(
        seed =>
        {
            var state = new IntakeState { Items = [Sound($"file {seed}.wav", seed, channels: 1 + (seed % 3))] };
            var cut = Cut(state, s_exact, out var found);
            var session = Join(cut).Session;
            Assert.Equal(0, found[0].ResidualPeak);
            Assert.True(session.Tracks[0].Lanes[0].Clips.Count > 1);
            Assert.Empty(SessionRules.Check(session));
            Assert.Equal(Rendered(Join(state).Session), Rendered(session));
        }, iter: 12);

    [Fact]
    public void Otherwise_what_is_left_out_is_what_the_clips_lack_and_its_peak_is_said() => Gen.Select(Gen.Int[0, 100_000], Gen.Double[0, 40], Gen.Double[0, 20]).Sample(
        (seed, kept, fade) =>
        {
            var state = new IntakeState { Items = [Sound($"file {seed}.wav", seed, faint: 0.0005)] };
            var session = Join(Cut(state, new CutRule(-60, 20, kept, kept, fade), out var found)).Session;
            var lacks = Rendered(Join(state).Session).Zip(Rendered(session)).SelectMany(c => c.First.Zip(c.Second, (a, b) => Math.Abs(a - b))).Max();
            Assert.Equal(found[0].ResidualPeak, lacks, 12);
            Assert.InRange(lacks, 1e-6, kept < fade ? 1 : 0.0005);
            Assert.Empty(SessionRules.Check(session));
        }, iter: 12);

    [Theory]
    [InlineData(44_100, 147, 160)]
    [InlineData(96_000, 2, 1)]
    [InlineData(32_000, 2, 3)]
    public void At_another_rate_every_clip_begins_where_samples_of_both_rates_lie(long hz, int grid, int step)
    {
        // Two files at 48 kHz, so that this is the session's rate.
        var state = new IntakeState { Items = [Sound("a other.wav", 5, hz), Sound("b.wav", 6), Sound("c.wav", 7)] };
        var session = Join(Cut(state, s_exact, out _)).Session;
        Assert.Equal(SampleRate.Hz48000, session.Rate);
        var clips = session.Tracks.First(t => t.Name == "a other").Lanes[0].Clips;
        Assert.True(clips.Count > 2);
        foreach (var clip in clips)
        {
            Assert.Equal((0, 0), (clip.SourceOffset % grid, clip.Start % step));
            Assert.Equal(clip.SourceOffset / grid, clip.Start / step);
        }
    }

    [Fact]
    public void A_cut_is_kept_with_the_state_taken_back_and_lost_when_the_sound_is_another()
    {
        var state = new IntakeState { Items = [Sound("bells.wav", 1), Sound("harp.wav", 2)] };
        var cut = IntakeState.FromJson(Cut(state, s_exact, out _).ToJson());
        var joined = Join(cut);
        Assert.All(joined.Session.Tracks, t => Assert.True(t.Lanes[0].Clips.Count > 1));
        Assert.Equal("bells 1", joined.Session.Tracks[0].Lanes[0].Clips[0].Name);

        var edits = new IntakeEdits(cut, joined.Session, joined);
        var (one, words, _) = edits.Uncut(joined.Session.Tracks[0].Id);
        Assert.Equal("bells is whole again", words);
        Assert.Equal([true, false], Join(one!).Session.Tracks.Select(t => t.Lanes[0].Clips.Count == 1));
        Assert.Equal(Join(state).Session, Join(edits.Uncut(null).After!).Session);

        // Another file under the name: its silences lie elsewhere, so it is whole and said.
        var other = Sound("bells.wav", 3) with { Sha256 = "other", Id = cut.Items[0].Id };
        var lost = Join(cut with { Items = [other, cut.Items[1]] });
        Assert.Equal(IntakeCodes.CutLost, Assert.Single(lost.Findings).Code);
        Assert.Single(lost.Session.Tracks[0].Lanes[0].Clips);
    }

    [Fact]
    public void What_is_all_sound_or_all_silent_stays_whole()
    {
        var state = new IntakeState { Items = [Sound("noise.wav", 1, faint: 0.4)] };
        var session = Join(state).Session;
        foreach (var (rule, pieces) in new[] { (s_exact, 1), (new CutRule(-1, 10, 0, 0, 5), 0) })
        {
            var found = Assert.Single(SilenceCuts.Measure(session, SilenceCuts.Of(session), rule, Files, CancellationToken.None));
            Assert.Equal((pieces, false), (found.Pieces.Count, found.IsCut));
        }

        Assert.NotNull(new IntakeEdits(state, session, Join(state)).Cut([], 0).Problem);
    }

    [Fact]
    public void Only_one_clip_that_nothing_was_done_to_can_be_cut()
    {
        var state = new IntakeState { Items = [Sound("bells.wav", 1)] };
        var session = Join(state).Session;
        var (track, lane) = (session.Tracks[0], session.Tracks[0].Lanes[0]);
        Assert.Single(SilenceCuts.Of(session));
        foreach (var clip in new[] { lane.Clips[0] with { Muted = true }, lane.Clips[0] with { FadeIn = new Fade(5) }, lane.Clips[0] with { GainCurve = new Automation([new AutomationPoint(0, 1)]) } })
        {
            Assert.Empty(SilenceCuts.Of(session with { Tracks = [track with { Lanes = [lane with { Clips = [clip] }] }] }));
        }

        foreach (var kind in new[] { TrackKind.GuideMix, TrackKind.Click })
        {
            Assert.Empty(SilenceCuts.Of(session with { Tracks = [track with { Kind = kind }] }));
        }
    }
}
