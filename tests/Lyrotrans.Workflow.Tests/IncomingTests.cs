using System.IO.Compression;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Pairing;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Files;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Formats.Wave;
using Lyrotrans.Workflow.Editing;
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
        var state = (before?.State ?? new IntakeState { SessionName = "Empty" }).With(items, work.Packages);
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
        var layout = WaveReader.Read(new MemoryStream(bytes), file.Path).Layout;
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
        Assert.StartsWith("a second set", brought.Placed(made.Plan.Files.First(f => f.Kind == PlannedKind.Stem).Path));
        Assert.All(brought.Session.Tracks, t => Assert.Equal(check.Package.Manifest, brought.Joined.Came[t.Id]));
        Assert.Null(Assert.Single(PairFinder.Pairs(brought.Session), p => p.Name == "Hall").Hindrance);
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

        // An unpacked package is a session to whoever reads it, without this program's store.
        var unpacked = Unpacked(made.Demo.Build(plan)).Single(f => f.Name.EndsWith(".session.json", StringComparison.Ordinal)).Path;
        Assert.Equal(brought.Session.Media.Select(m => (m.Id, m.IsAbsent)), SessionLoader.Load(Path.GetDirectoryName(unpacked)!, Path.Combine(_folder, "taken")).Session.Media.Select(m => (m.Id, m.IsAbsent)));

        // The same prints, whichever room makes them.
        var (own, others) = (Dry(made.Demo.Loaded, kept, plan.Range.End), Dry(brought.Loaded, kept, plan.Range.End));
        var (here, there2) = (made.Demo.Build(own), made.Demo.Build(others, brought.Loaded));
        var (files, same) = (own.Files.Where(f => f.Kind == PlannedKind.FromZero).ToList(), others.Files.Where(f => f.Kind == PlannedKind.FromZero).ToList());
        Assert.Equal(files.Count, same.Count);
        Assert.True(files.Count > 12);
        Assert.All(files.Zip(same), p => Assert.InRange(Rest(here, p.First, there2, p.Second), double.NegativeInfinity, -135));
    }

    [Theory]
    [InlineData("FLAC in one folder")]
    [InlineData("44.1 kHz, lowered")]
    [InlineData("OMF")]
    [InlineData("OTIO")]
    [InlineData("a file of clips for each bus")]
    public async Task Packages_of_every_form_come_in_with_all_that_is_in_them(string form)
    {
        Preparation Clips(Preparation p, ClipChoices clips) => p with { Clips = clips with { MonoOnly = false }, Tracks = [.. p.Tracks.Select(t => t.Treatment == Treatment.PrintDry ? t with { Treatment = Treatment.KeepClips } : t)] };
        var plan = made.Demo.Plan(p => form switch
        {
            "FLAC in one folder" => p with { Container = SoundContainer.Flac, Sheet = new SheetTerms("Flat") { Folders = FolderLayout.Flat } },
            "44.1 kHz, lowered" => p with { Rate = 44_100, Overs = OversPolicy.Lower },
            "OMF" => Clips(p, Choose.Omf),
            "OTIO" => Clips(p, Choose.Otio),
            _ => Clips(p, Choose.Aaf with { PerGroup = true }),
        });
        var brought = await BringAsync(null, ("package.zip", made.Demo.Build(plan)));
        Assert.True(brought.State.PackageChecks().Single() is { IsWhole: true, More: [] });
        Assert.Empty(SessionRules.Check(brought.Session));
        var missing = plan.Session.Media.Where(m => m.Place == MediaPlace.Missing).Select(m => m.FileName).ToHashSet();
        Assert.DoesNotContain(brought.Joined.Missing, m => !missing.Contains(m.FileName));
        var record = plan.DeliveredSession();
        Assert.Equal(record.Tracks.Select(t => t.Id), brought.Session.Tracks.Select(t => t.Id));
        var places = brought.Session.Media.ToDictionary(m => m.Id, m => m.IsAbsent);
        var sounding = NeededMedia.Of(brought.Session).Where(id => !places[id]).ToList();
        Assert.True(sounding.Count > 8, string.Join(", ", sounding));
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

    [Fact]
    public async Task What_was_changed_on_the_way_is_said_and_not_used_and_comes_right_when_it_is_sent_again()
    {
        var cello = made.Plan.Files.Single(f => f.Kind == PlannedKind.FromZero && f.TrackId == "narrator").Path;
        var files = Unpacked(made.Package);
        foreach (var (_, path) in files.Where(f => f.Name == cello))
        {
            var bytes = File.ReadAllBytes(path);
            bytes[^1] ^= 1;
            File.WriteAllBytes(path, bytes);
        }

        var lost = made.Plan.Files.Single(f => f.Kind == PlannedKind.FromZero && f.TrackId == "double-bass").Path;
        var brought = await BringAsync(null, [.. files.Where(f => f.Name != lost), ($"{made.Plan.Root}/stray.txt", files[0].Path)]);
        var check = brought.State.PackageChecks().Single();
        string Inside(string path) => path[(made.Plan.Root.Length + 1)..];
        Assert.Equal([Inside(cello)], check.Altered);
        Assert.Equal([Inside(lost)], check.Lacking);
        Assert.Equal(["stray.txt"], check.More);
        Assert.False(check.IsWhole);
        Assert.Equal("Not whole: 1 file is not as sent; 1 file is not here.", check.Verdict("the sender"));
        Assert.Equal(new[] { Inside(cello), Inside(lost) }.Order(), brought.Joined.Missing.Select(m => m.FileName).Order());
        Assert.All(brought.Joined.Missing, m => Assert.Contains("ask for it again", m.Reason, StringComparison.Ordinal));
        Assert.Equal("not as it was sent: ask for it again", brought.Placed(Path.GetFileName(cello)));

        var again = Unpacked(made.Package);
        var right = await BringAsync(brought, [.. again.Where(f => f.Name == cello || f.Name == lost)]);
        Assert.True(right.State.PackageChecks().Single() is { IsWhole: true, More: ["stray.txt"] });
        Assert.Empty(right.Joined.Missing);
    }

    [Fact]
    public async Task A_session_document_that_was_changed_leads_nothing_and_the_files_come_in_by_themselves()
    {
        var files = Unpacked(made.Package);
        var document = files.Single(f => f.Name.EndsWith(".session.json", StringComparison.Ordinal));
        File.WriteAllText(document.Path, File.ReadAllText(document.Path).Replace("\"sample\": ", "\"sample\": 1", StringComparison.Ordinal));
        var brought = await BringAsync(null, files);
        Assert.Equal([document.Name[(made.Plan.Root.Length + 1)..]], brought.State.PackageChecks().Single().Altered);
        Assert.Null(brought.Joined.Leader);
        Assert.Empty(brought.Joined.Came);
        Assert.Equal("not as it was sent: ask for it again", brought.Placed(".session.json"));
        Assert.Equal(made.Plan.Files.Count(f => f.IsSound || f.Kind == PlannedKind.ListeningCopy), brought.Session.Tracks.Count(t => t.Kind == TrackKind.Audio));
    }

    [Fact]
    public async Task A_manifest_that_somebody_else_signed_or_nobody_is_said()
    {
        var files = Unpacked(made.Package);
        var manifest = files.Single(f => f.Name.EndsWith("/manifest.json", StringComparison.Ordinal)).Path;
        var signature = files.Single(f => f.Name.EndsWith("/manifest.sig", StringComparison.Ordinal));
        var unsigned = await BringAsync(null, [.. files.Where(f => f != signature)]);
        Assert.Equal("Not whole: the signature is missing.", unsigned.State.PackageChecks().Single().Verdict(null));

        // The same words with a space more: a good manifest that nobody signed.
        File.AppendAllText(manifest, " ");
        var changed = (await BringAsync(null, files)).State.PackageChecks().Single();
        Assert.Null(changed.Package.Key);
        Assert.StartsWith("Not whole: the signature is of other bytes", changed.Verdict(null), StringComparison.Ordinal);

        // No manifest at all: files like any others, and nothing is said of them.
        File.WriteAllText(manifest, """{ "lyrotransPackage": 5, "files": 7 }""");
        var none = await BringAsync(null, files);
        Assert.Empty(none.State.Packages);
        Assert.DoesNotContain(none.State.Items, i => i.Kind == Formats.Recognition.ContentKind.Record);
    }

    [Fact]
    public async Task A_follow_up_by_itself_says_what_it_follows_and_with_it_is_whole()
    {
        DeliveryPlan Of(bool turned) => made.Demo.Plan(p => p with { Mix = new MixChoices(), Tracks = [.. p.Tracks.Select((t, i) => t.Treatment != Treatment.PrintDry ? t with { Treatment = Treatment.HoldBack } : t.TrackId == "cello" && !turned ? t with { Treatment = Treatment.HoldBack } : t)] });
        var before = made.Demo.Build(Of(false));
        var (sent, first) = FollowUpTests.Follow(made.Demo, _folder, before, Of(true));
        var alone = await BringAsync(null, ("follow.zip", sent));
        var check = alone.State.PackageChecks().Single();
        Assert.Equal(first, check.Package.Follows);
        Assert.NotEmpty(check.Lacking);
        Assert.All(alone.Joined.Missing, m => Assert.Contains(first, m.Reason, StringComparison.Ordinal));
        Assert.NotEmpty(alone.Joined.Missing);

        // One after the other in either order, or at once.
        foreach (var both in new[]
        {
            await BringAsync(await BringAsync(null, ("first.zip", before)), ("follow.zip", sent)), await BringAsync(alone, ("first.zip", before)), await BringAsync(null, ("first.zip", before), ("second.zip", sent)),
        })
        {
            Assert.True(both.State.PackageChecks().Single().IsWhole, both.State.PackageChecks().Single().Verdict(null));
            Assert.Equal(first, both.State.Packages.Single().Follows);
            Assert.Empty(both.Joined.Missing);
        }
    }

    [Fact]
    public async Task A_reply_is_only_what_was_added_from_the_same_zero_and_numbered_on_and_lies_at_its_place_where_it_came_from()
    {
        var brought = await BringAsync(null, ("package.zip", made.Package));
        var package = brought.State.Packages.Single();
        var nothing = new ReplyEdits(brought.State, brought.Joined, Preparation.Default(brought.Session, SessionFormats.Usual));
        Assert.Contains("Nothing was added", nothing.To(package.Manifest).Problem, StringComparison.Ordinal);
        Assert.NotNull(nothing.To("0123").Problem);

        // A hand drum, laid 48 000 samples after session start.
        var drum = Path.Combine(_folder, "Hand drum.wav");
        var bytes = PackageTamper.Read(made.Package, made.Plan.Files.Single(f => f.Kind == PlannedKind.FromZero && f.TrackId == "timpani").Path);
        var layout = WaveReader.Read(new MemoryStream(bytes), "timpani").Layout;

        // As long as the prints, with their stamp, and another sound.
        for (var at = (int)layout.DataOffset; at + 4 <= bytes.Length; at += 4)
        {
            BitConverter.TryWriteBytes(bytes.AsSpan(at), 0.5f * BitConverter.ToSingle(bytes, at));
        }

        File.WriteAllBytes(drum, bytes);
        var added = await BringAsync(brought, ("Hand drum.wav", drum));
        added = Join(added.State with { Items = [.. added.State.Items.Select(i => i.Name == "Hand drum.wav" ? i with { Placement = new Placement(PlacementRule.Offset, 48_000) } : i)] }, added.Media);
        var edit = new ReplyEdits(added.State, added.Joined, Preparation.Default(added.Session, SessionFormats.Usual)).To(package.Manifest);
        Assert.Null(edit.Problem);
        var plan = DeliveryPlan.Make(added.Session, edit.After!, SoundMeasures.FromStore(added.Session, added.Media));
        var numbers = made.Plan.Files.Where(f => f.Kind is PlannedKind.FromZero or PlannedKind.Click).Max(f => NamePattern.NumberOf(Path.GetFileName(f.Path)));
        var file = Assert.Single(plan.Files, f => f.IsSound);
        Assert.Equal(System.FormattableString.Invariant($"{numbers + 1:00}_Hand_drum.wav"), Path.GetFileName(file.Path));
        Assert.NotEqual(made.Plan.Root, plan.Root);
        Assert.Equal(made.Plan.Range.Start, plan.Range.Start);
        var zip = made.Demo.Build(plan, added.Loaded);
        Assert.True(made.Demo.Prove(zip, plan, added.Loaded).Passed);

        // There it lies beside the session: one track more, on its sample, and nothing else.
        var home = await BringAsync(null, [.. Directory.EnumerateFiles(Path.Combine(made.Demo.Folder, "session"), "*", SearchOption.AllDirectories).Where(f => !f.EndsWith(".mov", StringComparison.Ordinal)).Select(f => (Path.GetRelativePath(Path.Combine(made.Demo.Folder, "session"), f), f))]);
        var back = await BringAsync(home, ("reply.zip", zip));
        var reply = back.State.Packages.Single();
        Assert.Equal(package.Manifest, reply.ReplyTo);
        back = Join(back.State.LayingBeside([reply]), back.Media);
        var more = back.Session.Tracks.Where(t => home.Session.Tracks.All(h => h.Id != t.Id)).ToList();
        Assert.Equal("Hand drum", Assert.Single(more, t => t.Kind == TrackKind.Audio).Name);
        var clip = more.Single(t => t.Kind == TrackKind.Audio).Sounding!.Clips.Single();
        Assert.Equal(made.Plan.Range.Start, clip.Start);
        Assert.Equal(home.Session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count)), back.Session.Tracks.Sum(t => t.Parts.Sum(p => p.Notes.Count)));
        Assert.Equal(home.Session.Markers.Count, back.Session.Markers.Count);
        using var sound = SoundFile.Open(back.Media.FileOf(back.Session.Media.Single(m => m.Id == clip.Media).Sha256!), "drum");
        var found = Audio.Peaks.PeakPyramid.Measure(sound.Source, CancellationToken.None).Sound;
        using var source = SoundFile.Open(new DiskFile(drum), "drum");
        Assert.Equal(48_000 + Audio.Peaks.PeakPyramid.Measure(source.Source, CancellationToken.None).Sound.FirstSound, found.FirstSound);
    }
}
