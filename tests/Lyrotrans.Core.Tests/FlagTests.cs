using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Flags;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class FlagTests
{
    private static IReadOnlyList<string> Codes(Session session, MediaSound? sound = null) =>
        new FlagFinder(Facts(session) with { Sounds = sound is null ? new Dictionary<string, MediaSound>() : new() { ["m"] = sound } }).Flags().Select(f => f.Code).ToList();

    private static FlagFacts Facts(Session session) => new(session, Preparation.Default(session, TestFormats.Any));

    private static IReadOnlyList<Flag> Flags(Session session, Func<Preparation, Preparation> prepared) => new FlagFinder(new FlagFacts(session, prepared(Facts(session).Preparation))).Flags();

    private static Preparation Treating(Preparation preparation, string track, Treatment treatment) =>
        preparation with { Tracks = [.. preparation.Tracks.Select(c => c.TrackId == track ? c with { Treatment = treatment } : c)] };

    [Fact]
    public void A_clean_session_has_no_flags() => Assert.Empty(Codes(Of(Track("a", Clip("1", 0, 480_000)))));

    [Fact]
    public void Hidden_muted_and_switched_off_tracks_are_flagged()
    {
        foreach (var state in new[] { TrackState.Hidden, TrackState.Muted, TrackState.SwitchedOff })
        {
            Assert.Contains(state.Words().Replace(' ', '-') + "-track", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { State = state })));
        }
    }

    [Fact]
    public void Each_kind_of_trouble_has_its_flag()
    {
        Assert.Contains("missing-media", Codes(Of(Track("a", Clip("1", 0, 10))) with { Media = [Media() with { Place = MediaPlace.Missing }] }));
        Assert.Contains("other-rate", Codes(Of(Track("a", Clip("1", 0, 10))) with { Media = [Media() with { Rate = SampleRate.Hz44100 }] }));
        Assert.Contains("past-end", Codes(Of(Track("a", Clip("1", 0, 480_001)))));
        Assert.Contains("short-handle", Codes(Of(Track("a", Clip("1", 0, 400_000, 100)))));
        Assert.DoesNotContain("short-handle", Codes(Of(Track("a", Clip("1", 0, 300_000, 48_000)))));
        Assert.Contains("inverted-track", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { Inverted = true })));
        Assert.Contains("same-name", Codes(Of(Track("a", Clip("1", 0, 480_000)) with { Id = "x" }, Track("A"))));
        Assert.Contains("refused-name", Codes(Of(Track("a?", Clip("1", 0, 480_000)))));
        Assert.Contains("before-bar-1", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Bar1Sample = 10 }));
        Assert.Contains("empty-end", Codes(Of(Track("a", Clip("1", 0, 480_000))) with { Markers = [new Marker("m", "end", 9_000_000)] }));
        Assert.Contains("clipped", Codes(Of(Track("a", Clip("1", 0, 480_000))), new MediaSound(0, 480_000, 1, null, 2)));
        var stereo = Of(Track("a", Clip("1", 0, 480_000) with { ChannelMap = [0, 1] }) with { Channels = 2 }) with { Media = [Media(channels: 2)] };
        Assert.Contains("equal-channels", Codes(stereo, new MediaSound(0, 480_000, 0.5, double.NegativeInfinity, 0)));
        var empty = new Track { Id = "n", Name = "n", Kind = TrackKind.Notes, Parts = [new NotePart { Id = "p", Name = "p" }] };
        Assert.Contains("empty-part", Codes(Of(empty)));
    }

    private static NotePart Part(string id, int start, int length, params Note[] notes) => new()
    {
        Id = id,
        Name = id,
        StartQuarter = start,
        LengthQuarters = length,
        TicksPerQuarter = 480,
        Notes = notes.ToValueArray(),
    };

    private static Session Notes(params NotePart[] parts) => Of(new Track { Id = "n", Name = "Harp", Kind = TrackKind.Notes, Channels = 0, Parts = parts.ToValueArray() });

    [Fact]
    public void Notes_that_would_not_arrive_as_they_are_have_their_flags()
    {
        Assert.Empty(Codes(Notes(Part("a", 0, 8, new Note(0, 480, 1, 60, 90), new Note(480, 480, 1, 60, 90)))));
        Assert.Contains("no-notes", Codes(Notes(Part("a", 0, 4))));
        Assert.Contains("notes-outside", Codes(Notes(Part("a", 0, 1, new Note(480, 10, 1, 60, 90)))));
        Assert.Contains("hanging-note", Codes(Notes(Part("a", 0, 100, new Note(0, 480 * 32, 1, 60, 90)))));
        Assert.Contains("nested-notes", Codes(Notes(Part("a", 0, 8, new Note(0, 960, 1, 60, 90), new Note(480, 100, 1, 60, 90)))));
        Assert.DoesNotContain("nested-notes", Codes(Notes(Part("a", 0, 8, new Note(0, 960, 1, 60, 90), new Note(480, 100, 2, 60, 90)))));
        var one = new Note(0, 10, 1, 60, 90);
        Assert.Contains("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 4, 8, one))));
        Assert.DoesNotContain("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 8, 8, one))));
        Assert.DoesNotContain("overlapping-parts", Codes(Notes(Part("a", 0, 8, one), Part("b", 4, 8, one) with { Muted = true })));
        var asks = new FlagFinder(Facts(Notes(Part("a", 0, 8, one) with { Controls = [new NoteControl(0, NoteControlKind.Program, 2, 0, 46)] }))).Flags();
        Assert.Contains("program 47 on channel 2", Assert.Single(asks).Detail);
    }

    [Fact]
    public void A_tempo_that_the_sound_disagrees_with_is_told_with_its_confidence()
    {
        var session = Of(Track("a", Clip("1", 0, 480_000)));
        Assert.Empty(new FlagFinder(Facts(session) with { Tempo = new TempoEstimate(92, 0.1, 0.01) }).Flags());
        Assert.Empty(new FlagFinder(Facts(session) with { Tempo = new TempoEstimate(120, 0.5, 0.49) }).Flags());
        var flag = Assert.Single(new FlagFinder(Facts(session) with { Tempo = new TempoEstimate(92.25, 0.5, 0.1) }).Flags());
        Assert.Equal("other-tempo", flag.Code);
        Assert.Contains("says 120, the sound about 92.25", flag.Title);
        Assert.Contains("confidence 50 %", flag.Detail);
    }

    private static Track Long(string name) => Track(name, Clip(name, 0, 480_000));

    private static Insert Effect(string name, params (string Name, double Value)[] values) => new(name, [.. values.Select(v => new Parameter(v.Name, v.Value))]);

    [Fact]
    public void What_somebody_decided_on_is_no_flag_any_more()
    {
        var hidden = Of(Long("a"), Long("b") with { State = TrackState.Hidden });
        Assert.Contains(Flags(hidden, p => p), f => f.Kind == FlagKinds.HiddenTrack);
        Assert.DoesNotContain(Flags(hidden, p => Treating(p, "b", Treatment.PrintDry)), f => f.Kind == FlagKinds.HiddenTrack);

        var inverted = Of(Long("a") with { Inverted = true });
        Assert.Contains(Flags(inverted, p => p), f => f.Kind == FlagKinds.Inverted);
        Assert.Empty(Flags(inverted, p => Treating(p, "a", Treatment.PrintThrough)));
        Assert.Empty(Flags(inverted, p => p with { Tracks = [p.Tracks[0] with { Inverted = true }] }));

        // A handle is too short for one receiver and not for another.
        var cut = Of(Track("a", Clip("1", 0, 400_000, 20_000)));
        Assert.Contains(Flags(cut, p => p), f => f.Kind == FlagKinds.ShortHandle);
        Assert.Empty(Flags(cut, p => p with { Clips = p.Clips with { HandleUnit = HandleUnit.Samples, Handle = 20_000 } }));
        Assert.Contains("lacks a handle of 20001 samples", Assert.Single(Flags(cut, p => p with { Clips = p.Clips with { HandleUnit = HandleUnit.Samples, Handle = 20_001 } })).Title);
    }

    [Fact]
    public void An_effect_that_makes_the_sound_goes_with_it_and_one_that_shuts_sound_away_does_not()
    {
        var bass = Of(Long("bass") with { Inserts = [Effect("drive and cabinet")] });
        Assert.Equal(FlagKinds.SoundMaker, Assert.Single(Flags(bass, p => p)).Kind);
        Assert.Empty(Flags(bass, p => Treating(p, "bass", Treatment.PrintThrough)));
        Assert.Equal(FlagKinds.SoundMaker, Assert.Single(Flags(Of(Long("g") with { Inserts = [Effect("Tube Amplifier of another house")] }), p => p)).Kind);
        Assert.Empty(Flags(Of(Long("g") with { Inserts = [Effect("drive and cabinet") with { Bypassed = true }] }), p => p));

        foreach (var (effect, taken) in new[]
        {
            (Effect("limiter"), true), (Effect("equaliser", ("high cut Hz", 3000)), true), (Effect("equaliser", ("low cut Hz", 700)), true), (Effect("equaliser", ("low cut Hz", 80)), false), (Effect("compressor"), false),
        })
        {
            var session = Of(Long("a") with { Inserts = [effect] });
            Assert.Equal(taken, Flags(session, p => Treating(p, "a", Treatment.PrintThrough)).Any(f => f.Kind == FlagKinds.InsideLimiter));
            Assert.Empty(Flags(session, p => p));
        }
    }

    [Fact]
    public void Returns_go_with_what_feeds_them()
    {
        var hall = new Track { Id = "hall", Name = "Long hall", Kind = TrackKind.Return, Channels = 2 };
        var session = Of(Long("a") with { Sends = [new Send("hall", -6, false)] }, Track("b", Clip("b", 480_000, 480_000)) with { Sends = [new Send("hall", -6, false)] }, hall);
        Assert.Equal("Long hall does not go, and 2 tracks send to it", Assert.Single(Flags(session, p => p)).Title);
        Assert.Empty(Flags(session, p => Treating(p, "hall", Treatment.PrintThrough)));
        Assert.Equal("Long hall goes with the effect on 1 track that does not go", Assert.Single(Flags(session, p => Treating(Treating(p, "hall", Treatment.PrintThrough), "b", Treatment.HoldBack))).Title);
        Assert.Empty(Flags(session, p => Treating(Treating(p, "a", Treatment.HoldBack), "b", Treatment.HoldBack)));
    }

    [Fact]
    public void A_limiter_on_the_master_is_in_the_way_of_stems_only()
    {
        var session = Of(Long("a"), new Track { Id = "master", Name = "Master", Kind = TrackKind.Master, Channels = 2, Inserts = [Effect("limiter")] });
        Assert.Empty(Flags(session, p => p));
        Assert.Empty(Flags(session, p => p with { Mix = p.Mix with { Stems = true, Master = StemMaster.Before } }));
        Assert.Equal("master", Assert.Single(Flags(session, p => p with { Mix = p.Mix with { Stems = true, Master = StemMaster.Through } })).TrackId);
    }

    [Fact]
    public void Clips_off_the_frames_are_flagged_where_places_are_frames()
    {
        // A frame is 1920 samples.
        var session = Of(Track("a", Clip("on", 0, 19_200), Clip("off", 38_400, 19_210)));
        Preparation Frames(Preparation p) => Treating(p with { Clips = p.Clips with { FrameUnits = true } }, "a", Treatment.KeepClips);
        var flag = Flags(session, Frames).Single(f => f.Kind == FlagKinds.SubFrame);
        Assert.Equal(("off", "It would move by 10 samples"), (flag.ClipId, flag.Detail));
        Assert.DoesNotContain(Flags(session, p => Treating(p, "a", Treatment.KeepClips)), f => f.Kind == FlagKinds.SubFrame);
        Assert.DoesNotContain(Flags(session, p => p with { Clips = p.Clips with { FrameUnits = true } }), f => f.Kind == FlagKinds.SubFrame);
    }

    [Fact]
    public void Spare_takes_sections_and_lossy_sound_are_flagged()
    {
        var takes = Of(Track("a", Clip("1", 0, 480_000)) with { Lanes = [new Lane("comp", [Clip("1", 0, 480_000)]), new Lane("take 2", [Clip("2", 0, 480_000)]), new Lane("empty", [])] });
        Assert.Equal("a has 1 spare take that does not go", Assert.Single(Flags(takes, p => p)).Title);
        Assert.Empty(Flags(takes, p => Treating(p, "a", Treatment.HoldBack)));
        Assert.Equal(FlagKinds.Sections, Assert.Single(Flags(Of(Long("a")) with { Markers = [new Marker("m", "Second room", 0, 96_000), new Marker("n", "Lamps", 0)] }, p => p)).Kind);
        Assert.Equal(FlagKinds.Lossy, Assert.Single(new FlagFinder(Facts(Of(Long("a"))) with { Lossy = new HashSet<string> { "m" } }).Flags()).Kind);
    }

    [Theory]
    [InlineData(1, 0, 0, true)]
    [InlineData(4, 0, 0, true)]
    [InlineData(240, 0, 0, true)]
    [InlineData(241, 0, 0, false)]
    [InlineData(0, 0, 0, false)]
    [InlineData(4, 10, 10, false)]
    [InlineData(4, 10, 0, true)]
    public void A_gap_of_a_few_samples_between_two_clips_is_a_fault_unless_both_are_faded(int gap, int fadeOut, int fadeIn, bool fault)
    {
        var session = Of(Track("a", Clip("1", 0, 1_000, 50_000, 0, fadeOut), Clip("2", 1_000 + gap, 1_000, 90_000, fadeIn)));
        var found = Flags(session, p => p).Where(f => f.Kind == FlagKinds.EditGap).ToList();
        Assert.Equal(fault, found.Count == 1);
        Assert.All(found, f => Assert.Equal((1_000, "2"), (f.Sample!.Value, f.ClipId)));
    }

    [Fact]
    public void The_same_sound_twice_at_one_place_is_a_fault()
    {
        bool Doubled(Clip other, TrackState state = TrackState.Active) => Flags(Of(Long("a"), Track("b", other) with { State = state }), p => p).Any(f => f.Kind == FlagKinds.Doubled);
        Assert.True(Doubled(Clip("x", 0, 480_000)));
        Assert.True(Doubled(Clip("x", 1_000, 50, 1_000)));
        Assert.False(Doubled(Clip("x", 1_000, 50, 1_001)));
        Assert.False(Doubled(Clip("x", 0, 480_000) with { Muted = true }));
        Assert.False(Doubled(Clip("x", 0, 480_000), TrackState.Muted));

        // Another channel of the file is another sound; and what one track plays twice one after the other is none.
        var two = Of(Long("a"), Track("b", Clip("x", 0, 480_000) with { ChannelMap = [1] })) with { Media = [Media(channels: 2)] };
        Assert.DoesNotContain(Flags(two, p => p), f => f.Kind == FlagKinds.Doubled);
        Assert.Equal("a and b play the same sound at the same place", Flags(Of(Long("a"), Track("b", Clip("x", 0, 480_000))), p => p).Single(f => f.Kind == FlagKinds.Doubled).Title);
    }

    private static IReadOnlyList<Flag> Edges(Track track, params (string Clip, double First, double Last)[] edges) => [.. new FlagFinder(Facts(Of(track)) with
    {
        Edges = edges.ToDictionary(e => e.Clip, e => new ClipEdges(new EdgeSound([e.First], 0.01), new EdgeSound([e.Last], 0.01))),
    }).Flags().Where(f => f.Kind == FlagKinds.EdgeStep)];

    [Fact]
    public void A_jump_at_an_edge_is_a_fault_where_no_fade_covers_it()
    {
        var (one, two) = (Clip("1", 0, 200_000), Clip("2", 200_000, 280_000, 200_000));
        Assert.Empty(Edges(Track("a", one), ("1", 0.001, 0.019)));
        var flag = Assert.Single(Edges(Track("a", one), ("1", 0, 0.1)));
        Assert.Equal((200_000L, "1"), (flag.Sample, flag.ClipId));
        Assert.Contains("−20.0 dBFS", flag.Detail);
        Assert.Contains("−14.0 dBFS", Assert.Single(Edges(Track("a", one with { GainDb = 6.0206 }), ("1", 0, 0.1))).Detail);
        Assert.Empty(Edges(Track("a", one with { FadeOut = new Fade(96, FadeShape.Linear) }), ("1", 0, 0.1)));
        Assert.Equal(0, Assert.Single(Edges(Track("a", one with { FadeOut = new Fade(96, FadeShape.Linear) }), ("1", -0.1, 0.1))).Sample);

        // Where clips meet it is from one to the other, and told once.
        Assert.Empty(Edges(Track("a", one, two), ("1", 0, 0.1), ("2", 0.1, 0)));
        Assert.Equal(200_000, Assert.Single(Edges(Track("a", one, two), ("1", 0, 0.1), ("2", -0.1, 0))).Sample);
        Assert.Single(Edges(Track("a", one, two with { FadeIn = new Fade(96, FadeShape.Linear) }), ("1", 0, 0.1), ("2", 0.1, 0)));
        Assert.Empty(Edges(Track("a", one, two with { Start = 200_004 }), ("1", 0, 0.1), ("2", 0.1, 0)));
        Assert.Empty(Edges(Track("a", one) with { State = TrackState.Muted }, ("1", 0.5, 0.5)));
    }

    [Fact]
    public void Faults_inside_a_file_are_those_of_the_clips_that_play_them()
    {
        var faults = new SoundFaults([], [new(SoundFaultKind.Click, 0, 500, 1), new(SoundFaultKind.Dropout, 0, 1000, 480), new(SoundFaultKind.Dropout, 0, 90_000, 24)], 3);
        IReadOnlyList<Flag> Found(params Clip[] clips) => [.. new FlagFinder(Facts(Of(Track("a", clips))) with { Faults = new Dictionary<string, SoundFaults> { ["m"] = faults } }).Flags().Where(f => f.Kind == FlagKinds.Dropout || f.Kind == FlagKinds.DigitalClick)];
        var whole = Found(Clip("1", 48_000, 480_000));
        Assert.Equal([("digital-click", 48_500L), ("dropout", 49_000L)], whole.Select(f => (f.Code, f.Sample!.Value)));
        Assert.Contains("2 dropouts", whole[1].Title);
        Assert.Contains("480 samples long", whole[1].Detail);
        Assert.Equal([("dropout", 88_999L)], Found(Clip("1", 0, 100_000, 1001)).Select(f => (f.Code, f.Sample!.Value)));
        Assert.Empty(Found(Clip("1", 0, 80_000, 2000)));
        Assert.Empty(Found(Clip("1", 0, 480_000) with { Muted = true }));
    }

    [Fact]
    public void An_offset_and_a_silent_channel_are_flags_of_files_that_are_played()
    {
        IReadOnlyList<string> Found(double offsetDb, int[] silent, Session session) => [.. new FlagFinder(Facts(session) with
        {
            Levels = new Dictionary<string, SoundLevels> { ["m"] = new(-6, -6, -20, 3, offsetDb, null, null, 0, 0, 480_000) },
            Faults = new Dictionary<string, SoundFaults> { ["m"] = new(silent, [], 0) },
        }).Flags().Select(f => f.Code).Where(c => c is "dc-offset" or "silent-channel")];
        var stereo = Of(Track("a", Clip("1", 0, 480_000) with { ChannelMap = [0, 1] }) with { Channels = 2 }) with { Media = [Media(channels: 2)] };
        Assert.Equal(["dc-offset", "silent-channel"], Found(-59, [1], stereo));
        Assert.Empty(Found(-61, [], stereo));
        Assert.Empty(Found(-61, [1], stereo with { Tracks = [Track("a", Clip("1", 0, 480_000))] }));
        Assert.Empty(Found(-20, [], stereo with { Media = [Media(channels: 2) with { Length = 47_999 }] }));
        Assert.Empty(Found(-20, [1], stereo with { Tracks = [stereo.Tracks[0] with { State = TrackState.Hidden }] }));
    }

    [Fact]
    public void A_picture_with_sound_or_of_another_frame_rate_is_a_flag()
    {
        IReadOnlyList<string> Found(Rational? frames, int channels) => Codes(Of(Track("a", Clip("1", 0, 480_000))) with
        {
            Picture = new PictureReference("reels/reel.mov", new Timecode(0, FrameRate.Fps25), 250, new string('a', 64)) { FramesPerSecond = frames, SoundChannels = channels },
        });
        Assert.Empty(Found(25, 0));
        Assert.Empty(Found(null, 2));
        Assert.Equal(["picture-sound"], Found(25, 2));
        Assert.Equal(["picture-frames"], Found(new Rational(30_000, 1001), 0));
    }

    [Fact]
    public void A_track_and_its_print_by_name_do_not_both_go()
    {
        var session = Of(Track("Cello", Clip("1", 0, 480_000)), Track("Cello print", Clip("2", 0, 480_000)) with { Id = "p" }, Track("Cello print room", Clip("3", 0, 480_000)) with { Id = "r" });
        var flag = Assert.Single(Flags(session, p => p), f => f.Kind == FlagKinds.PrintedTwice);
        Assert.Equal("p", flag.TrackId);
        Assert.DoesNotContain(Flags(session, p => Treating(p, "Cello", Treatment.HoldBack)), f => f.Kind == FlagKinds.PrintedTwice);
        Assert.DoesNotContain(Flags(session, p => Treating(p, "p", Treatment.HoldBack)), f => f.Kind == FlagKinds.PrintedTwice);
    }

    [Fact]
    public void Takes_that_came_as_tracks_do_not_sound_at_once()
    {
        Track Named(string id, string name, long start) => Track(id, Clip(id, start, 48_000)) with { Id = id, Name = name };
        IReadOnlyList<string?> Found(params Track[] tracks) => [.. Flags(Of(tracks), p => p).Where(f => f.Kind == FlagKinds.TwoTakes).Select(f => f.TrackId)];
        Assert.Equal(["2"], Found(Named("1", "Narrator", 0), Named("2", "Narrator take 2", 47_999)));
        Assert.Equal(["2"], Found(Named("1", "Narrator_tk1", 0), Named("2", "narrator tk 02", 0)));
        Assert.Equal(["1"], Found(Named("1", "Narrator take 1", 0), Named("2", "Narrator", 0)));
        Assert.Empty(Found(Named("1", "Narrator", 0), Named("2", "Narrator take 2", 48_000)));
        Assert.Empty(Found(Named("1", "Narrator", 0), Named("2", "Narrator 2", 0)));
        Assert.Empty(Found(Named("1", "Take 1", 0), Named("2", "Take 2", 0)));
        Assert.Empty(Found(Named("1", "Narrator", 0), Named("2", "Narrator take 2", 0) with { State = TrackState.Muted }));
    }

    [Fact]
    public void An_answer_holds_for_what_it_was_given_on_and_for_nothing_else()
    {
        var two = Of(Long("a") with { State = TrackState.Muted }, Long("b") with { State = TrackState.Muted });
        FlagGroup Group(Session session, params FlagAnswer[] answers) => FlagGroup.Of(new FlagFinder(Facts(session)).Flags(), answers).Single(g => g.Kind == FlagKinds.MutedTrack);
        var group = Group(two);
        Assert.True(group.IsOpen);
        Assert.Equal("2 muted tracks have sound", group.Title);
        var answer = group.Answered(true, "They are scratches.");
        Assert.False(Group(two, answer).IsOpen);

        // One fewer: still answered. One more, or another one: open again, and it is known which is new.
        Assert.False(Group(Of(two.Tracks[0]), answer).IsOpen);
        var three = Of([.. two.Tracks, Long("c") with { State = TrackState.Muted }]);
        Assert.Equal(["c"], Group(three, answer).Flags.Where(Group(three, answer).IsNew).Select(f => f.TrackId));
        Assert.True(Group(Of(two.Tracks[0] with { Name = "another name" }), answer).IsOpen);

        // What is answered stands behind what is open.
        var mixed = FlagGroup.Of(new FlagFinder(Facts(two with { Markers = [new Marker("m", "Second room", 0, 10)] })).Flags(), [answer]);
        Assert.Equal([true, false], mixed.Select(g => g.IsOpen));
    }

    [Fact]
    public void Kinds_have_codes_of_their_own_and_words_for_several()
    {
        Assert.Equal(FlagKinds.All.Count, FlagKinds.All.Select(k => k.Code).Distinct().Count());
        Assert.All(FlagKinds.All, k => Assert.EndsWith(".", k.Costs, StringComparison.Ordinal));
        Assert.All(FlagKinds.All.Where(k => k != FlagKinds.BeforeBar1 && k != FlagKinds.NoTempo && k != FlagKinds.OtherTempo && k != FlagKinds.MasterLimiter && k != FlagKinds.EmptyEnd && k != FlagKinds.OtherFrames && k != FlagKinds.PictureSound && k != FlagKinds.PictureFrames), k => Assert.StartsWith("# ", k.Many, StringComparison.Ordinal));
    }
}
