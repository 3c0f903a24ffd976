using System.IO.Compression;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>A package that another room made, brought in: recognised whole, nothing twice, and prepared for a third room or replied to.</summary>
public sealed class IncomingTests(RolePackage made) : IClassFixture<RolePackage>, IDisposable
{
    private const double FloatDb = -120;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-incoming-").FullName;

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    /// <summary>What a transfer is after files were brought in.</summary>
    private sealed record Brought(IntakeState State, JoinedSession Joined, MemoryMedia Media)
    {
        public LoadedSession Loaded => new(Joined.Session, new StoredMedia(Media), Joined.Findings);

        public Session Session => Joined.Session;

        public string Placed(string name) => Joined.Placed[State.Items.Single(i => i.Name.EndsWith(name, StringComparison.Ordinal)).Id].Reason;
    }

    private async Task<Brought> BringAsync(Brought? before, params (string Name, string Path)[] files)
    {
        var media = before?.Media ?? new MemoryMedia(Directory.CreateDirectory(Path.Combine(_folder, "scratch")).FullName);
        var incoming = Directory.CreateDirectory(Path.Combine(_folder, "incoming")).FullName;
        using var pulse = new WorkPulse(_ => false);
        var work = new IntakeWork(media, incoming, (_, _) => Task.CompletedTask, pulse);
        var items = work.Measured(await work.TakeAsync([.. files.Select(f =>
        {
            var copy = Path.Combine(incoming, Guid.NewGuid().ToString("N"));
            File.Copy(f.Path, copy);
            return new ArrivedFile(f.Name, copy, null);
        })]));
        var state = (before?.State ?? new IntakeState { SessionName = "Empty" }).With(items).With(work.Packages);
        return Join(IntakeState.FromJson(state.ToJson()), media);
    }

    private static Brought Join(IntakeState state, MemoryMedia media) => new(state, SessionJoin.Join(state, sha256 => media.FileOf(sha256).Open()), media);

    private (string Name, string Path)[] Unpacked(string zip)
    {
        var folder = Path.Combine(_folder, Guid.NewGuid().ToString("N"));
        ZipFile.ExtractToDirectory(zip, folder);
        return [.. Directory.EnumerateFiles(folder, "*", SearchOption.AllDirectories).Select(f => (Path.GetRelativePath(folder, f).Replace('\\', '/'), f))];
    }

    private static double Rest(string zip, PlannedFile file, string other, PlannedFile otherFile)
    {
        var (a, b) = (Sound(zip, file), Sound(other, otherFile));
        Assert.Equal(a.Length, b.Length);
        return Core.Sound.Decibels.FromRatio(a.Zip(b).Max(p => Math.Abs(p.First - p.Second)));
    }

    private static float[] Sound(string zip, PlannedFile file)
    {
        var bytes = PackageTamper.Read(zip, file.Path);
        var layout = Formats.Wave.WaveReader.Read(new MemoryStream(bytes), file.Path).Layout;
        return [.. Enumerable.Range(0, (int)layout.Frames * layout.Channels).Select(i => BitConverter.ToSingle(bytes, (int)layout.DataOffset + (i * 4)))];
    }

    [Theory]
    [InlineData(true)]
    [InlineData(false)]
    public async Task A_package_is_recognised_whole_and_nothing_comes_in_twice(bool zipped)
    {
        var brought = await BringAsync(null, zipped ? [("package.zip", made.Package)] : Unpacked(made.Package));
        var check = Assert.Single(brought.State.PackageChecks());
        Assert.True(check.IsWhole, check.Verdict(null));
        Assert.Equal(DemoSession.Maker.Key.Public.Words, check.Package.KeyWords);
        Assert.Empty(check.More);
        Assert.Empty(brought.State.LeftOut);
        Assert.Empty(brought.Joined.Missing);
        Assert.Empty(brought.Joined.Findings);
        Assert.Empty(SessionRules.Check(brought.Session));

        // Every track of the record once, and beside them only what stands for them.
        var record = made.Plan.DeliveredSession();
        Assert.Equal(record.Tracks.Select(t => (t.Id, t.Name, t.Kind)), brought.Session.Tracks.Select(t => (t.Id, t.Name, t.Kind)));
        Assert.Equal(made.Plan.Session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count)), brought.Session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count)));
        Assert.Equal(made.Plan.Session.Markers.Count, brought.Session.Markers.Count);
        Assert.Equal("its notes, tempo and meters are in the session document", brought.Placed(".mid"));
        Assert.StartsWith("a second set", brought.Placed("stems/01_Strings.wav"));
        Assert.All(brought.Session.Tracks, t => Assert.Equal(check.Package.Manifest, brought.Joined.Came[t.Id]));
        Assert.All(brought.Session.Media.Where(m => !m.IsAbsent), m => Assert.Equal(check.Package.Manifest, m.Delivery));
    }

    [Fact]
    public async Task What_came_sounds_as_it_did_there_and_goes_on_to_a_third_room()
    {
        var brought = await BringAsync(null, ("package.zip", made.Package));
        var without = brought.Loaded with { Session = brought.Session with { Tracks = [.. brought.Session.Tracks.Where(t => t.Kind != TrackKind.GuideMix)] } };
        var plan = made.Demo.Plan(p => made.Prepared(p) with { ChosenEnd = made.Plan.Range.End }, without);
        Assert.Equal(made.Plan.Range, plan.Range);
        var third = made.Demo.Build(plan, without);
        var report = made.Demo.Prove(third, plan, without);
        Assert.True(report.Passed, string.Join("\n", report.Rows.Where(r => !r.Passed).Select(r => $"{r.Subject}: {r.What}: {r.Difference}").Take(10)));
        Assert.Empty(plan.GapsWith(MediaFaults.Of(plan.Session, without.Media, CancellationToken.None)).Open);

        // The mix is made here of prints, dry ones through their effects, and is the mix that came along.
        Assert.InRange(Rest(made.Package, made.Plan.Files.Single(f => f.Kind == PlannedKind.GuideMix), third, plan.Files.Single(f => f.Kind == PlannedKind.GuideMix)), double.NegativeInfinity, FloatDb);
    }

    [Theory]
    [InlineData("inside", false)]
    [InlineData("beside", false)]
    [InlineData("inside", true)]
    [InlineData("beside", true)]
    public async Task Kept_clips_take_their_sound_from_the_media_that_go_with_them_and_are_the_clips_that_they_were(string media, bool mono)
    {
        var plan = made.Demo.Plan(p => p with
        {
            Clips = (media == "beside" ? Choose.Aaf with { Media = Core.ClipFormats.ClipMediaForm.BesideWave } : Choose.Aaf) with { Trimmed = true, Handle = 500, MonoOnly = mono },
            Tracks = [.. p.Tracks.Select(t => t with { Treatment = t.Treatment == Treatment.PrintDry ? Treatment.KeepClips : Treatment.HoldBack })],
        });
        var kept = plan.Preparation.Tracks.Where(c => c.Treatment == Treatment.KeepClips).Select(c => c.TrackId).ToHashSet();
        var brought = await BringAsync(null, ("package.zip", made.Demo.Build(plan)));
        Assert.True(brought.State.PackageChecks().Single().IsWhole);
        Assert.Equal("its clips are in the session document", brought.Placed(".aaf"));
        Assert.Empty(SessionRules.Check(brought.Session));
        var missing = plan.Session.Media.Where(m => m.Place == MediaPlace.Missing).Select(m => m.FileName).ToHashSet();
        Assert.All(brought.Joined.Missing, m => Assert.Contains(m.FileName, missing));
        foreach (var track in plan.Session.Tracks.Where(t => kept.Contains(t.Id)))
        {
            var there = brought.Session.Tracks.Where(t => t.Id == track.Id || t.Id.StartsWith($"{track.Id}~channel-", StringComparison.Ordinal)).ToList();
            Assert.Equal(mono && track.Channels > 1 ? track.Channels + 1 : 1, there.Count);
            Assert.All(there, t => Assert.Equal(Said(track), Said(t)));
        }

        // The same prints, whichever room makes them.
        var (own, others) = (Dry(made.Demo.Loaded, kept, plan.Range.End), Dry(brought.Loaded, kept, plan.Range.End));
        var (here, there2) = (made.Demo.Build(own), made.Demo.Build(others, brought.Loaded));
        var (files, same) = (own.Files.Where(f => f.Kind == PlannedKind.FromZero).ToList(), others.Files.Where(f => f.Kind == PlannedKind.FromZero).ToList());
        Assert.Equal(files.Count, same.Count);
        Assert.True(files.Count > 12);
        Assert.All(files.Zip(same), p => Assert.InRange(Rest(here, p.First, there2, p.Second), double.NegativeInfinity, -135));
    }

    private static IEnumerable<object> Said(Track track) => track.Sounding!.Clips.Select(c => (object)(c.Name, c.Start, c.Length, c.GainDb, c.FadeIn, c.FadeOut, c.Muted));

    // Each channel of what is kept in a file of its own.
    private DeliveryPlan Dry(LoadedSession loaded, HashSet<string> kept, long end) => made.Demo.Plan(
        p => p with
        {
            Encoding = Core.Sound.SampleEncoding.Float32,
            ChosenEnd = end,
            Tracks = [.. p.Tracks.Select(c => c with { Channels = DeliveredChannels.Separate, Treatment = kept.Contains(c.TrackId.Split("~channel-")[0]) && c.Treatment == Treatment.PrintDry ? Treatment.PrintDry : Treatment.HoldBack })],
        },
        loaded);
}
