using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;
using static Lyrotrans.Core.Tests.TestSessions;

namespace Lyrotrans.Core.Tests;

public class DeliveryTests
{
    private static readonly Dictionary<string, MediaSound> s_unmeasured = [];

    [Fact]
    public void The_range_ends_at_the_last_sound_and_its_tail()
    {
        var session = Of(Track("a", Clip("1", 1000, 400_000)));
        var preparation = Preparation.Default(session, TestFormats.Any) with { Tail = 50 };
        Assert.Equal(new SampleRange(0, 401_050), DeliveryRange.Of(session, preparation, s_unmeasured));
        var quiet = new Dictionary<string, MediaSound> { ["m"] = new(0, 200_000, 0.5, null, 0) };
        Assert.Equal(new SampleRange(0, 201_050), DeliveryRange.Of(session, preparation, quiet));
    }

    [Fact]
    public void A_range_of_nothing_is_refused_in_words()
    {
        var session = Of(Track("a", Clip("1", 0, 100_000)));
        string? Problem(long start, long end) => DeliveryPlan.Make(session, Preparation.Default(session, TestFormats.Any) with { From = RangeStart.Chosen, ChosenStart = start, ChosenEnd = end }, s_unmeasured).Problem;
        Assert.Contains("Choose a later end", Problem(48_000, 48_000), StringComparison.Ordinal);
        Assert.Contains("end at 00:00:00:12 +960 and begin at 00:00:01:00", Problem(48_000, 24_000), StringComparison.Ordinal);
        Assert.Null(Problem(48_000, 48_001));
    }

    [Fact]
    public void Dry_files_add_up_to_the_sum_of_their_peaks_at_most()
    {
        var (sounds, session) = (new Dictionary<string, MediaSound> { ["m"] = new(0, 400_000, 0.5, null, 0) }, Of(
            Track("a", Clip("1", 0, 1000), Clip("2", 900, 1000)), Track("b", Clip("3", 0, 1000) with { GainDb = -20 }), Track("c", Clip("4", 0, 1000) with { Muted = true }), Track("d", Clip("5", 0, 1000))));
        var preparation = Preparation.Default(session, TestFormats.Any);
        PeakSum? Sum(Preparation p, Dictionary<string, MediaSound> measured) => PeakSum.Of(DeliveryPlan.Make(session, p, measured), measured);
        var held = preparation with { Tracks = [.. preparation.Tracks.Select(c => c.TrackId == "d" ? c with { Treatment = Treatment.HoldBack } : c)] };
        var sum = Sum(held, sounds)!;

        // Two that overlap, and one 20 dB down.
        Assert.Equal((2, Decibels.FromRatio(1.05)), (sum.Files, sum.Db));
        Assert.Equal(0.5, sum.PullDownDb, 9);
        Assert.Equal((3, Decibels.FromRatio(1.55)), (Sum(preparation, sounds)!.Files, Sum(preparation, sounds)!.Db));
        Assert.Null(Sum(preparation, []));
        Assert.Equal(0, new PeakSum(1, -3).PullDownDb);
    }

    [Fact]
    public void A_chosen_end_can_have_a_tail_after_it()
    {
        var session = Of(Track("a", Clip("1", 1000, 400_000)));
        SampleRange Range(long tail) => DeliveryPlan.Make(session, Preparation.Default(session, TestFormats.Any) with { ChosenEnd = 4000, EndTail = tail }, s_unmeasured).Range;
        Assert.Equal(4000, Range(0).End);
        Assert.Equal(4700, Range(700).End);

        // Without a chosen end it adds nothing.
        var usual = Preparation.Default(session, TestFormats.Any);
        Assert.Equal(DeliveryPlan.Make(session, usual, s_unmeasured).Range, DeliveryPlan.Make(session, usual with { EndTail = 700 }, s_unmeasured).Range);
    }

    [Fact]
    public void The_range_can_start_at_bar_one_or_anywhere()
    {
        var session = Of(Track("a", Clip("1", 0, 1000))) with { Bar1Sample = 300 };
        var preparation = Preparation.Default(session, TestFormats.Any) with { Tail = 0 };
        Assert.Equal(300, DeliveryRange.Of(session, preparation with { From = RangeStart.Bar1 }, s_unmeasured).Start);
        Assert.Equal(-48, DeliveryRange.Of(session, preparation with { From = RangeStart.Chosen, ChosenStart = -48 }, s_unmeasured).Start);
    }

    [Fact]
    public void Held_back_sound_does_not_lengthen_the_range()
    {
        var session = Of(Track("a", Clip("1", 0, 1000)), Track("b", Clip("2", 0, 90_000)) with { State = TrackState.Hidden });
        Assert.Equal(1000, DeliveryRange.Of(session, Preparation.Default(session, TestFormats.Any) with { Tail = 0 }, s_unmeasured).End);
    }

    [Fact]
    public void Hidden_muted_switched_off_and_empty_tracks_are_held_back_at_first()
    {
        var session = Of(
            Track("a", Clip("1", 0, 10)), Track("b", Clip("2", 0, 10)) with { State = TrackState.Muted }, Track("c"),
            new Track { Id = "d", Name = "d", Kind = TrackKind.Return });
        Assert.Equal(
            [Treatment.PrintDry, Treatment.HoldBack, Treatment.HoldBack, Treatment.HoldBack],
            Preparation.Default(session, TestFormats.Any).Tracks.Select(c => c.Treatment));
    }

    [Fact]
    public void Two_tracks_of_one_name_are_delivered_apart_and_in_order()
    {
        var session = Of(Track("x", Clip("1", 0, 10)) with { Name = "Bells" }, Track("y", Clip("2", 0, 10)) with { Name = "Bells" });
        var preparation = Preparation.Default(session, TestFormats.Any);
        Assert.Equal(["01_Bells", "02_Bells"], DeliveredNames.Of(session, preparation).Values);
        var unnumbered = DeliveredNames.Of(session, preparation with { NamePattern = "{track}" });
        Assert.Equal(["Bells", "Bells_2"], unnumbered.Values);
    }

    [Fact]
    public void A_preparation_follows_a_session_whose_tracks_changed()
    {
        var before = Preparation.Default(Of(Track("a", Clip("1", 0, 10)), Track("b", Clip("2", 0, 10))), TestFormats.Any) with { Tail = 7 };
        var after = before.For(Of(Track("c", Clip("3", 0, 10)), Track("b", Clip("2", 0, 10))));
        Assert.Equal(["b", "c"], after.Tracks.Select(t => t.TrackId));
        Assert.Equal(7, after.Tail);
    }

    [Fact]
    public void Nothing_in_the_carry_plan_is_lost_without_a_word()
    {
        var notes = new Track
        {
            Id = "n",
            Name = "n",
            Kind = TrackKind.Notes,
            Channels = 0,
            Parts = [new NotePart { Id = "p", Name = "p", LengthQuarters = 4, Notes = [new Note(0, 10, 1, 60, 64)] }],
        };
        var session = Of(
            Track("a", Clip("1", 0, 1000, fadeOut: 100) with { GainDb = -3 }, Clip("2", 900, 1000, fadeIn: 100)) with { Pan = 0.5, Sends = [new Send("r", -6)] },
            Track("h", Clip("3", 0, 10)) with { State = TrackState.Hidden }, notes,
            new Track { Id = "r", Name = "r", Kind = TrackKind.Return, Inserts = [new Insert("reverb")] });
        var plan = CarryPlan.Of(DeliveryPlan.Make(session, Preparation.Default(session, TestFormats.Any), s_unmeasured));
        Assert.Equal(0, plan.LostWithoutAWord);
        CarryRow Row(string kind) => plan.Rows.Single(r => r.Kind == kind);
        Assert.Equal((2, 1), (Row("Clip positions").Count(0, Fate.Printed), Row("Clip positions").Count(0, Fate.HeldBack)));
        Assert.Equal(1, Row("Crossfades").Count(0, Fate.Printed));
        Assert.Equal(1, Row("Notes").Count(1, Fate.Carried));
        foreach (var row in plan.Rows)
        {
            Assert.Equal(row.Objects.Count, row.Brought + row.Objects.Count(o => o.Fates.All(f => f == Fate.HeldBack)));
        }
    }

    [Fact]
    public void The_delivered_session_leaves_out_what_is_held_back_and_its_media()
    {
        var session = Of(Track("a", Clip("1", 0, 10)), Track("h", Clip("2", 0, 10) with { Media = "z" }) with { State = TrackState.Hidden }) with { Media = [Media(), Media("z")] };
        var delivered = DeliveryPlan.Make(session, Preparation.Default(session, TestFormats.Any), s_unmeasured).DeliveredSession();
        Assert.Equal(["a"], delivered.Tracks.Select(t => t.Id));
        Assert.Equal([("media/m.wav", MediaPlace.Unsent), ("audio/01_a.wav", MediaPlace.Beside)], delivered.Media.Select(m => (m.FileName.Replace("m.wav", "media/m.wav", StringComparison.Ordinal), m.Place)));
        Assert.Empty(SessionRules.Check(delivered));
    }

    [Fact]
    public void The_record_sounds_by_the_packages_own_files_and_by_each_of_them_once()
    {
        var bus = new Track { Id = "b", Name = "Bus", Kind = TrackKind.Bus, Channels = 2, FaderDb = -3 };
        Track Fed(string id, int channels = 1) => Track(id, Clip(id + "1", 100, 50) with { ChannelMap = [.. Enumerable.Range(0, channels)], GainDb = -6 }) with { Output = "b", FaderDb = -2, Pan = 0.5, Channels = channels };
        var session = Of(Fed("dry"), Fed("through"), Fed("level"), Fed("mixed"), Fed("wide", 2), bus) with { Media = [Media() with { Channels = 2 }] };
        var treatments = new Dictionary<string, Treatment> { ["dry"] = Treatment.PrintDry, ["through"] = Treatment.PrintThrough, ["level"] = Treatment.PrintLevel, ["mixed"] = Treatment.PrintMixed, ["wide"] = Treatment.PrintDry, ["b"] = Treatment.HoldBack };
        var preparation = Preparation.Default(session, TestFormats.Any);
        var plan = DeliveryPlan.Make(session, preparation with { Mix = new MixChoices(Guide: true), Tracks = [.. preparation.Tracks.Select(c => c with { Treatment = treatments[c.TrackId], Channels = c.TrackId == "wide" ? DeliveredChannels.Separate : c.Channels })] }, s_unmeasured);
        var record = plan.DeliveredSession(-1.5);
        Assert.Empty(SessionRules.Check(record));
        var tracks = record.Tracks.ToDictionary(t => t.Id);
        Assert.Equal(MediaPlace.Unsent, record.Media.Single(m => m.Id == "m").Place);
        Assert.Equal(plan.Files.Where(f => f.IsSound).Select(f => f.Path[(plan.Root.Length + 1)..]).Order(StringComparer.Ordinal), record.Media.Where(m => m.Id != "m").Select(m => m.FileName).Order(StringComparer.Ordinal));

        // What a print has in it is not done again; what it has not stays the track's.
        var roles = TrackRoles.Of(record);
        (double Fader, double Pan) Heard(string id) => (roles.Sounding(tracks[id]).FaderDb, roles.Sounding(tracks[id]).Pan);
        Assert.Equal((-2, 0.5), Heard("dry"));
        Assert.Equal((-2, 0.5), Heard("through"));
        Assert.Equal((0, 0.5), Heard("level"));
        Assert.Equal((0, 0), Heard("mixed"));
        Assert.Equal((-2, 0.5), (tracks["mixed"].FaderDb, tracks["mixed"].Pan));
        Assert.Equal(["main", "01_dry"], tracks["dry"].Lanes.Select(l => l.Name));
        Assert.Equal((1, 0L, 1.5), (tracks["dry"].SoundingLane, tracks["dry"].Sounding!.Clips[0].Start, tracks["dry"].Sounding!.Clips[0].GainDb));
        Assert.Null(roles.PrintOf("dry"));

        // Two files of one track: it is muted, and they lie left and right beside it.
        Assert.Equal(TrackState.Muted, tracks["wide"].State);
        Assert.Equal([(-1.0, -2.0, "b"), (1.0, -2.0, "b")], record.Tracks.Where(t => t.Name.StartsWith("05_wide", StringComparison.Ordinal)).Select(t => (t.Pan, t.FaderDb, t.Output!)));
        Assert.Equal(1, record.Tracks.Count(t => t.Kind == TrackKind.GuideMix));
    }
}
