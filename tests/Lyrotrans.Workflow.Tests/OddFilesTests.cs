using Lyrotrans.Audio.Pcm;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Build;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Proving;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Files as they should not come: each is said in words, and nothing is lost.</summary>
public sealed class OddFilesTests : IDisposable
{
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-odd-").FullName;
    private readonly Dictionary<string, string> _paths = [];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private IntakeItem Sound(string name, int frames, long hz = 48_000, int channels = 2, double level = 0.3)
    {
        var planar = Enumerable.Range(0, channels).Select(c => Enumerable.Range(0, frames).Select(i => level * Math.Sin((i * 0.01 * (c + 1)) + name.Length)).ToArray()).ToArray();
        var layout = new PcmLayout(SampleEncoding.Integer24, false, channels, SampleRate.FromHz(hz), 0, frames);
        var bytes = new byte[layout.DataBytes];
        new PcmEncoder(layout.Encoding).Encode(planar, channels, frames, bytes);
        var path = Path.Combine(_folder, name);
        File.WriteAllBytes(path, [.. WaveWriter.Head(layout), .. bytes, .. new byte[layout.DataBytes & 1]]);
        var item = Examiner.Examine(new DiskFile(path), name, name);
        _paths[item.Id] = path;
        return item;
    }

    private static JoinedSession Join(IntakeState state) => SessionJoin.Join(state, _ => throw new InvalidOperationException());

    private static IntakeState Said(IntakeState state, string item, RoleKind kind, params string[] of)
    {
        var joined = Join(state);
        var edit = new IntakeEdits(state, joined.Session, joined).Role(state.Items.First(i => i.Name == item).Id, kind, [.. of.Select(o => joined.Session.Tracks.First(t => t.Name == o).Id)]);
        return edit.After ?? throw new InvalidOperationException(edit.Problem);
    }

    private void Proved(Session session, Func<Preparation, Preparation>? prepared = null)
    {
        Assert.Empty(SessionRules.Check(session));
        var files = new MappedMedia(_paths, _folder);
        var preparation = Preparation.Default(session, SessionFormats.Usual);
        var plan = DeliveryPlan.Make(session, prepared?.Invoke(preparation) ?? preparation, SoundMeasures.FromFiles(session, files, CancellationToken.None));
        var zip = Path.Combine(_folder, "p.zip");
        PackageFile.Build(plan, files, zip, DemoSession.Maker, _ => { }, CancellationToken.None);
        var report = PackageProof.Prove(new DiskFile(zip), "p.zip", plan, files, _ => { }, CancellationToken.None);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed)));
    }

    [Fact]
    public void A_print_longer_than_its_track_goes_to_its_end()
    {
        var state = Said(new IntakeState { Items = [Sound("Voice.wav", 20_000), Sound("Voice print.wav", 60_000)] }, "Voice print.wav", RoleKind.Print, "Voice");
        var session = Join(state).Session;
        Assert.Equal(60_000, session.EndSample);
        var files = DeliveryPlan.Make(session, Preparation.Default(session, SessionFormats.Usual), new Dictionary<string, MediaSound>()).Files;
        Assert.Contains(files, f => f.IsSound && f.Frames >= 60_000);
        Proved(session);
    }

    [Fact]
    public void A_print_of_nothing_is_refused_and_one_of_a_track_without_sound_is_no_loss()
    {
        var state = new IntakeState { Items = [Sound("Voice.wav", 20_000, level: 0), Sound("Voice print.wav", 20_000)] };
        var joined = Join(state);
        Assert.Contains("Say which track", new IntakeEdits(state, joined.Session, joined).Role(state.Items[1].Id, RoleKind.Print, []).Problem, StringComparison.Ordinal);
        Proved(Join(Said(state, "Voice print.wav", RoleKind.Print, "Voice")).Session);
    }

    [Fact]
    public void A_guide_at_another_rate_is_converted_like_any_sound()
    {
        var state = Said(new IntakeState { Items = [Sound("Voice.wav", 48_000), Sound("Horn.wav", 48_000), Sound("Suite mix.wav", 44_100, 44_100)] }, "Suite mix.wav", RoleKind.GuideMix);
        Proved(Join(state).Session, p => p with { Mix = p.Mix with { Guide = true } });
    }

    [Fact]
    public void Two_clicks_are_two_clicks_and_play_in_no_mix()
    {
        var state = new IntakeState { Items = [Sound("Voice.wav", 48_000), Sound("click.wav", 48_000, channels: 1), Sound("click 2.wav", 48_000, channels: 1)] };
        var joined = Join(state);
        state = new IntakeEdits(state, joined.Session, joined).Roles(RoleFinder.Propose(joined.Session, state.Items).ToDictionary(p => p.Item, p => p.Role)).After!;
        var session = Join(state).Session;
        Assert.Equal(2, session.Tracks.Count(t => t.Kind == TrackKind.Click));
        Proved(session, p => p with { Mix = p.Mix with { Guide = true, Stems = true } });
    }

    [Fact]
    public void Links_in_a_folder_are_not_followed_and_said()
    {
        var folder = Directory.CreateDirectory(Path.Combine(_folder, "linked")).FullName;
        File.Copy(Fixtures.Path("aaf/cello.wav"), Path.Combine(folder, "cello.wav"));
        Directory.CreateSymbolicLink(Path.Combine(folder, "again"), folder);
        File.CreateSymbolicLink(Path.Combine(folder, "passwords.wav"), "/etc/passwd");
        File.CreateSymbolicLink(Path.Combine(folder, "nowhere.wav"), Path.Combine(folder, "gone"));
        var loaded = SessionLoader.Load(folder, Path.Combine(_folder, "scratch"));
        Assert.Equal(["cello"], loaded.Session.Tracks.Select(t => t.Name));
        Assert.Contains("3 links in the folder were not followed", Assert.Single(loaded.Findings, f => f.Code == IntakeCodes.Links).Text, StringComparison.Ordinal);
    }

    [Fact]
    public async Task Twenty_thousand_small_files_are_one_line_and_the_sound_among_them_comes_in()
    {
        var media = new MemoryMedia(Path.Combine(_folder, "scratch"));
        var incoming = Directory.CreateDirectory(Path.Combine(_folder, "incoming")).FullName;
        var files = new List<ArrivedFile>();
        for (var i = 0; i < 20_000; i++)
        {
            var path = Path.Combine(incoming, $"{i}");
            File.WriteAllBytes(path, [1, 2, (byte)i]);
            files.Add(new ArrivedFile($"cache/{i}.peak", path, null));
        }

        var sound = Path.Combine(incoming, "sound");
        File.Copy(Fixtures.Path("aaf/cello.wav"), sound);
        using var pulse = new WorkPulse(_ => false);
        var items = await new IntakeWork(media, incoming, (_, _) => Task.CompletedTask, pulse).TakeAsync([.. files, new ArrivedFile("cello.wav", sound, null)]);
        var state = new IntakeState().With(items);
        Assert.Equal((20_000, "cello.wav"), (state.LeftOut.Count, Assert.Single(state.Items).Name));
        Assert.Equal("brought in cello.wav, 20\u202f000 left out", IntakeWork.Words(items));
    }
}
