using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using Lyrotrans.Files;
using Lyrotrans.Formats.OpenSession;
using Lyrotrans.Formats.Recognition;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Roles;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Sound files that are more than a track: what they are taken for, what was decided, and what becomes of it when sources change.</summary>
public sealed class IntakeRoleTests : IDisposable
{
    private const long Frames = 480_000;
    private readonly string _folder = Directory.CreateTempSubdirectory("lyro-roles-").FullName;
    private readonly Dictionary<string, byte[]> _files = [];

    public void Dispose() => Directory.Delete(_folder, recursive: true);

    private static NotePart Part(string id) => new() { Id = id, Name = id, LengthQuarters = 20, Notes = [new Note(0, 9600, 1, 60, 90)] };

    private static Session Suite() => new()
    {
        Name = "Suite",
        Media = [new Media { Id = "m", FileName = "narrator.wav", Rate = SampleRate.Hz48000, Length = Frames, Channels = 1, Place = MediaPlace.Missing }],
        Tracks =
        [
            new Track { Id = "celesta", Name = "Celesta", Kind = TrackKind.Notes, Channels = 0, Parts = [Part("p1")] },
            new Track { Id = "pad", Name = "Glass pad", Kind = TrackKind.Notes, Channels = 0, Parts = [Part("p2")], Output = "strings", Sends = [new Send("hall", -6, false)] },
            new Track { Id = "narrator", Name = "Narrator", Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = "m", Length = Frames }])] },
            new Track { Id = "strings", Name = "Strings", Kind = TrackKind.Bus, Channels = 2 },
            new Track { Id = "hall", Name = "Long hall", Kind = TrackKind.Return, Channels = 2 },
        ],
    };

    private IntakeItem Document(Session session, string name = "Suite.session.json")
    {
        var bytes = SessionDocumentWriter.Write(session);
        var sha256 = Convert.ToHexStringLower(System.Security.Cryptography.SHA256.HashData(bytes));
        var path = Path.Combine(_folder, sha256);
        File.WriteAllBytes(path, bytes);
        _files[sha256] = bytes;
        return Examiner.Examine(new DiskFile(path), name, sha256);
    }

    private static IntakeItem Sound(string name, int channels = 2, long frames = Frames + 96_000) => new()
    {
        Id = name,
        Name = name,
        Sha256 = name,
        Kind = ContentKind.Wave,
        Sound = new SoundFileFacts("WAVE", SampleEncoding.Integer24, channels, "48000", frames, null, []),
    };

    private JoinedSession Join(IntakeState state) => SessionJoin.Join(state, sha => new MemoryStream(_files[sha]));

    private IntakeEdits Edits(IntakeState state) => new(state, Join(state).Session, Join(state));

    private static Track? Of(Session session, string file) => session.Tracks.FirstOrDefault(t => t.Id == $"{file}-track");

    [Theory]
    [InlineData("Celesta print.wav", RoleKind.Print, "celesta", true)]
    [InlineData("celesta.wav", RoleKind.Print, "celesta", true)]
    [InlineData("03_Glass_Pad_wet_2.wav", RoleKind.Print, "pad", true)]
    [InlineData("Long hall only.wav", RoleKind.Print, "hall", true)]
    [InlineData("Strings.wav", RoleKind.Stem, "strings", true)]
    [InlineData("Narrator print.wav", RoleKind.Print, "narrator", true)]
    [InlineData("Suite mix v7.wav", RoleKind.GuideMix, null, true)]
    [InlineData("click 92.wav", RoleKind.Click, null, true)]
    [InlineData("prints/Celesta with much reverb and delay.wav", null, null, false)]
    [InlineData("Narrator.wav", null, null, false)]
    [InlineData("Bell.wav", null, null, false)]
    [InlineData("mix without celesta.wav", RoleKind.Print, "celesta", false)]
    public void A_file_is_taken_for_what_its_name_and_length_say(string name, RoleKind? kind, string? of, bool sure)
    {
        var state = new IntakeState { Items = [Document(Suite()), Sound(name)] };
        var found = RoleFinder.Propose(Join(state).Session, state.Items);
        if (kind is null)
        {
            Assert.Empty(found);
            return;
        }

        var proposal = Assert.Single(found);
        Assert.Equal((kind.Value, of), (proposal.Role.Kind, proposal.Role.Of.SingleOrDefault()?.Id));
        Assert.Equal(sure, proposal.IsSure);
    }

    [Fact]
    public void A_print_that_is_far_too_short_or_long_and_two_of_one_thing_are_not_sure()
    {
        Assert.All(new[] { 4_800L, 48_000_000L }, frames =>
        {
            var state = new IntakeState { Items = [Document(Suite()), Sound("Celesta print.wav", frames: frames)] };
            Assert.False(Assert.Single(RoleFinder.Propose(Join(state).Session, state.Items)).IsSure);
        });
        var twice = new IntakeState { Items = [Document(Suite()), Sound("Celesta print.wav"), Sound("Celesta wet.wav")] };
        Assert.All(RoleFinder.Propose(Join(twice).Session, twice.Items), p => Assert.False(p.IsSure));
        var alone = new IntakeState { Items = [Sound("click.wav"), Sound("mix.wav")] };

        // Without tracks that could have prints a file is a track or, beside others, a click.
        Assert.Equal(RoleKind.Click, Assert.Single(RoleFinder.Propose(Join(alone).Session, alone.Items)).Role.Kind);
        alone = new IntakeState { Items = [Sound("click.wav")] };
        Assert.Empty(RoleFinder.Propose(Join(alone).Session, alone.Items));
    }

    [Theory]
    [InlineData("audio 7.wav", RoleKind.Print, "narrator", 0.97, RoleKind.Print, "narrator", true)]
    [InlineData("audio 7.wav", RoleKind.Print, "narrator", 0.7, RoleKind.Print, "narrator", false)]
    [InlineData("audio 7.wav", RoleKind.GuideMix, null, 0.95, RoleKind.GuideMix, null, true)]
    [InlineData("Narrator take.wav", RoleKind.Print, "narrator", 0.97, RoleKind.Print, "narrator", true)]
    [InlineData("hall take.wav", RoleKind.Print, "hall", 0.97, RoleKind.Print, "hall", true)]
    [InlineData("Long hall only.wav", RoleKind.Print, "narrator", 0.97, RoleKind.Print, "hall", false)]
    [InlineData("audio 7.wav", RoleKind.Print, "gone", 0.97, null, null, false)]
    public void What_a_file_sounds_like_is_a_reason_and_counts_for_it_or_against_its_name(string name, RoleKind heard, string? like, double correlation, RoleKind? kind, string? of, bool sure)
    {
        var target = like is null ? null : new RoleTarget(like, Suite().Tracks.FirstOrDefault(t => t.Id == like)?.Name ?? like);
        var state = new IntakeState { Items = [Document(Suite()), Sound(name) with { Heard = new HeardAs(heard, target, correlation) }] };
        state = IntakeState.FromJson(state.ToJson());
        var found = RoleFinder.Propose(Join(state).Session, state.Items).SingleOrDefault();
        Assert.Equal((kind, of, sure), (found?.Role.Kind, found?.Role.Of.SingleOrDefault()?.Id, found?.IsSure ?? false));
        Assert.All(found?.Reasons ?? [], r => Assert.NotEqual(string.Empty, r));
        Assert.Equal(kind is not null, found?.Reasons.Any(r => r.Contains("sound", StringComparison.Ordinal)) ?? false);
    }

    [Fact]
    public void All_sure_roles_are_taken_in_one_step_and_hold_when_the_document_is_corrected()
    {
        string[] names = ["Celesta print.wav", "Long hall.wav", "Strings.wav", "Suite mix.wav", "click.wav", "Bell.wav"];
        var state = new IntakeState { Items = [Document(Suite()), .. names.Select(n => Sound(n))] };
        var taken = Edits(state).Roles(RoleFinder.Propose(Join(state).Session, state.Items).Where(p => p.IsSure).ToDictionary(p => p.Item, p => p.Role));
        Assert.Equal("5 files have roles", taken.Words);
        var session = Join(taken.After!).Session;
        Assert.Empty(SessionRules.Check(session));
        Assert.Equal([TrackKind.Print, TrackKind.Print, TrackKind.Stem, TrackKind.GuideMix, TrackKind.Click, TrackKind.Audio], names.Select(n => Of(session, n)!.Kind));
        Assert.Equal(["celesta"], Of(session, names[0])!.Of);
        Assert.Empty(Join(taken.After!).Findings);

        // The same after it was kept and read again.
        Assert.Equal(session, Join(IntakeState.FromJson(taken.After!.ToJson())).Session);

        // Another document under the same name in which the track has another id: it is found by its name.
        var corrected = Suite() with { Tracks = [.. Suite().Tracks.Select(t => t.Id == "celesta" ? t with { Id = "t7" } : t)] };
        var after = Join(taken.After!.With([Document(corrected)]));
        Assert.Equal(["t7"], Of(after.Session, names[0])!.Of);

        // One in which it is gone: the file is a track again, and it is said.
        var without = Join(taken.After!.With([Document(Suite() with { Tracks = [.. Suite().Tracks.Where(t => t.Id != "celesta")] })]));
        Assert.Equal(TrackKind.Audio, Of(without.Session, names[0])!.Kind);
        Assert.Equal(IntakeCodes.RoleLost, Assert.Single(without.Findings).Code);
    }

    [Fact]
    public void A_track_has_one_print_and_a_session_one_guide_who_was_it_before_is_a_track()
    {
        var state = new IntakeState { Items = [Document(Suite()), Sound("a.wav"), Sound("b.wav")] };
        var first = Edits(state).Role("a.wav", RoleKind.Print, ["celesta"]).After!;
        var second = Edits(first).Role("b.wav", RoleKind.Print, ["celesta"]);
        Assert.Equal("b.wav is the print of Celesta", second.Words);
        Assert.Equal((TrackKind.Audio, TrackKind.Print), (Of(Join(second.After!).Session, "a.wav")!.Kind, Of(Join(second.After!).Session, "b.wav")!.Kind));
        var guide = Edits(Edits(state).Role("a.wav", RoleKind.GuideMix, []).After!).Role("b.wav", RoleKind.GuideMix, []).After!;
        Assert.Equal((TrackKind.Audio, TrackKind.GuideMix), (Of(Join(guide).Session, "a.wav")!.Kind, Of(Join(guide).Session, "b.wav")!.Kind));
        var open = Edits(guide).Undecided("b.wav").After!;
        Assert.Null(open.Items.Single(i => i.Id == "b.wav").Role);
    }

    [Fact]
    public void A_role_that_cannot_be_is_refused_in_words()
    {
        var edits = Edits(new IntakeState { Items = [Document(Suite()), Sound("a.wav")] });
        Assert.All(
            new[] { edits.Role("a.wav", RoleKind.Print, []), edits.Role("a.wav", RoleKind.Print, ["celesta", "pad"]), edits.Role("a.wav", RoleKind.Print, ["a.wav-track2"]), edits.Role("a.wav", RoleKind.Stem, ["hall"]), edits.Role("a.wav", (RoleKind)77, []), edits.Role("nobody", RoleKind.Click, []) },
            e => Assert.NotNull(e.Problem));
        Assert.Null(edits.Role("a.wav", RoleKind.Stem, ["celesta", "strings"]).Problem);
    }

    [Fact]
    public void Many_files_are_placed_declared_split_and_removed_in_one_step_each()
    {
        string[] names = ["a.wav", "b.wav", "c.wav"];
        var state = new IntakeState { Items = [Document(Suite()), .. names.Select(n => Sound(n, frames: 24_000))] };
        long[] Places(IntakeState s) => [.. names.Select(n => Of(Join(s).Session, n)!.Lanes[0].Clips[0].Start)];
        var edits = Edits(state);

        // At 120 quarters a minute a bar is two seconds.
        var bars = edits.PlaceMany(names, PlacementRule.Offset, "bars", "3.1.0", inRow: false);
        Assert.Equal(("placed 3 files at 3.1.0 bars", "192000,192000,192000"), (bars.Words, string.Join(',', Places(bars.After!))));
        Assert.Equal([48_000, 72_000, 96_000], Places(edits.PlaceMany(names, PlacementRule.Offset, "seconds", "1", inRow: true).After!));
        Assert.Equal([0, 48_000, 0], Places(edits.PlaceMany(["b.wav"], PlacementRule.Offset, "samples", "48 000", inRow: false).After!));
        var late = state with { Items = [Document(Suite() with { Bar1Sample = 31_304 }), .. state.Items.Skip(1)] };
        Assert.Equal([31_304, 0, 31_304], Places(Edits(late).PlaceMany(["a.wav", "c.wav"], PlacementRule.Bar1, string.Empty, null, inRow: false).After!));
        Assert.Contains("no place in timecode", edits.PlaceMany(names, PlacementRule.Offset, "timecode", "soon", inRow: false).Problem!, StringComparison.Ordinal);
        Assert.NotNull(edits.PlaceMany([state.Items[0].Id], PlacementRule.Bar1, string.Empty, null, inRow: false).Problem);

        var found = edits.PlaceFound(new Dictionary<string, long> { ["a.wav"] = 111, ["c.wav"] = -7 });
        Assert.Equal(("placed 2 files by their sound", "111,0,-7"), (found.Words, string.Join(',', Places(found.After!))));
        Assert.Equal("by its sound", Join(found.After!).Placed["a.wav"].Reason);
        Assert.NotNull(edits.PlaceFound(new Dictionary<string, long> { ["nobody"] = 1 }).Problem);

        var declared = edits.DeclareRates([.. names, state.Items[0].Id], "44100");
        Assert.Equal(("3 files at 44 100 Hz", 3), (declared.Words.Replace('\u202f', ' '), declared.After!.Items.Count(i => i.DeclaredRate == "44100")));
        Assert.NotNull(edits.DeclareRates(names, "17").Problem);
        Assert.NotNull(edits.DeclareRates([state.Items[0].Id], "44100").Problem);

        var split = edits.SplitMany(names);
        Assert.Equal("split 3 tracks to mono", split.Words);
        Assert.Equal(Join(state).Session.Tracks.Count + 3, Join(split.After!).Session.Tracks.Count);
        Assert.Equal(3, edits.RoleOfMany(names, RoleKind.Click).After!.Items.Count(i => i.Role?.Kind == RoleKind.Click));
        Assert.NotNull(edits.RoleOfMany(names, RoleKind.Print).Problem);

        var removed = edits.RemoveMany(["a.wav", "c.wav"], s => Join(s).Session);
        Assert.Equal("removed 2 sources; gone: a and c", removed.Words);
        Assert.Equal(["Suite.session.json", "b.wav"], removed.After!.Items.Select(i => i.Name));
        Assert.NotNull(edits.RemoveMany([], s => Join(s).Session).Problem);
    }

    [Fact]
    public void A_corrected_document_takes_the_place_of_the_first_with_its_decisions()
    {
        var (first, corrected) = (Document(Suite()), Document(Suite() with { Tracks = [.. Suite().Tracks.Select(t => t.Id == "pad" ? t with { Pan = 0.5 } : t)], Name = "Suite 2" }, "Other name.session.json"));
        var state = new IntakeState { Items = [first, corrected, Sound("Celesta print.wav") with { Role = new ItemRole(RoleKind.Print, [new RoleTarget("celesta", "Celesta")]) }], MapFrom = first.Id };
        var taken = Edits(state).TakeInstead(corrected.Id, s => Join(s).Session);
        Assert.Equal("Other name.session.json instead of Suite.session.json; changed: Glass pad", taken.Words);
        Assert.Equal(corrected.Id, taken.After!.MapFrom);
        Assert.Equal(TrackKind.Print, Of(Join(taken.After).Session, "Celesta print.wav")!.Kind);
        Assert.NotNull(Edits(taken.After).TakeInstead(corrected.Id, s => Join(s).Session).Problem);
        Assert.NotNull(Edits(state).TakeInstead("nobody", s => Join(s).Session).Problem);
    }

    [Fact]
    public void What_is_of_no_use_is_left_out_and_what_is_called_like_sound_is_an_error()
    {
        IntakeItem Examined(string name, byte[] bytes)
        {
            var path = Path.Combine(_folder, Guid.NewGuid().ToString("N"));
            File.WriteAllBytes(path, bytes);
            return Examiner.Examine(new DiskFile(path), name, new string('a', 64));
        }

        var noise = new byte[5_000];
        new Random(3).NextBytes(noise);
        noise[0] = 0;
        IntakeItem[] items = [Examined("s/overviews/a.overview", noise), Examined("s/Suite.document", noise), Examined("s/empty.lock", []), Examined("s/read me.txt", noise), Examined("s/a.wav", noise), Examined("s/b.aaf", noise), Examined("s/c.wav", [])];
        Assert.Equal([true, true, true, true, false, false, false], items.Select(i => i.IsLeftOut));
        var state = new IntakeState().With(items);
        Assert.Equal(["s/empty.lock", "s/overviews/a.overview", "s/read me.txt", "s/Suite.document"], state.LeftOut.Select(f => f.Name));
        Assert.Equal(["s/Suite.document"], state.LeftOut.Where(f => f.MayBeDocument).Select(f => f.Name));
        Assert.Equal(3, state.Items.Count);
        Assert.True(state.HasAll(items));
        Assert.Equal(state.LeftOut, IntakeState.FromJson(state.With(items).ToJson()).LeftOut);
        Assert.Equal("brought in 3 files, 3 could not be read, 4 left out", IntakeWork.Words(items));
    }

    [Fact]
    public void A_file_with_a_role_is_not_taken_for_a_missing_medium()
    {
        var sound = Sound("narrator.wav", 1, Frames);
        var state = new IntakeState { Items = [Document(Suite()), sound] };
        Assert.Empty(Join(state).Missing);
        Assert.Single(Join(state with { Items = [state.Items[0], sound with { Role = new ItemRole(RoleKind.Click, []) }] }).Missing);
    }

    private static Session Reel(string name, string track, Timecode start) => new()
    {
        Name = name,
        Start = start,
        Media = [new Media { Id = $"m-{track}", FileName = $"{track}.wav", Rate = SampleRate.Hz48000, Length = Frames, Channels = 1, Place = MediaPlace.Missing }],
        Tracks = [new Track { Id = "t", Name = track, Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = $"m-{track}", Start = 48_000, Length = 24_000 }])] }],
    };

    [Fact]
    public void Sessions_of_other_tracks_lie_beside_by_their_start_and_the_first_leads()
    {
        var (two, one) = (Document(Reel("two", "Horn", new Timecode(10 * 25, FrameRate.Fps25)), "two.session.json"), Document(Reel("one", "Harp", new Timecode(4 * 25, FrameRate.Fps25)), "one.session.json"));
        var typed = Sound("bell.wav", 1, 4800) with { Placement = new Placement(PlacementRule.Offset, 1000) };
        var state = new IntakeState { Items = [two, one, typed] };
        var joined = Join(state);
        Assert.Equal((two.Id, one.Id), (joined.Leader, Assert.Single(joined.Others)));
        var edit = Edits(state).LayBeside(one.Id, s => Join(s).Session);
        Assert.StartsWith("one.session.json lies beside two.session.json", edit.Words, StringComparison.Ordinal);

        // What begins first leads; what was typed stays where it was in time.
        joined = Join(edit.After!);
        Assert.Equal((one.Id, "00:00:04:00"), (joined.Leader, joined.Session.Start.ToString()));
        Assert.Equal([("Harp", 48_000L), ("Horn", 48_000L + (6 * 48_000)), ("bell", 1000L + (6 * 48_000))], joined.Session.Tracks.Select(t => (t.Name, t.Lanes[0].Clips[0].Start)));
        Assert.Equal($"beside it, by its start 00:00:10:00", joined.Placed[two.Id].Reason);
        Assert.Empty(SessionRules.Check(joined.Session));
        Assert.Equal(2, joined.Session.Media.Count(m => m.Place == MediaPlace.Missing));
        Assert.DoesNotContain(joined.Findings, f => f.Code == IntakeCodes.SecondSession);

        // It is placed by another rule, taken out again, and removed.
        var after = IntakeState.FromJson(edit.After!.ToJson());
        Assert.Equal(48_000, Join(Edits(after).Place(two.Id, PlacementRule.SessionStart, null).After!).Session.Tracks.First(t => t.Name == "Horn").Lanes[0].Clips[0].Start);
        Assert.Single(Join(Edits(after).NotBeside(two.Id, s => Join(s).Session).After!).Findings, f => f.Code == IntakeCodes.SecondSession);
        Assert.DoesNotContain(two.Id, Edits(after).Remove(two.Id, s => Join(s).Session).After!.Beside);
        Assert.NotNull(Edits(after).LayBeside(two.Id, s => Join(s).Session).Problem);
        Assert.NotNull(Edits(after).NotBeside(one.Id, s => Join(s).Session).Problem);
    }

    [Fact]
    public void Another_export_of_the_same_tracks_is_no_other_session()
    {
        var state = new IntakeState { Items = [Document(Suite()), Document(Suite() with { Bar1Sample = 5 }, "corrected.session.json")] };
        Assert.Empty(Join(state).Others);
        Assert.Single(Join(state).Findings, f => f.Code == IntakeCodes.SecondSession);
    }
}
