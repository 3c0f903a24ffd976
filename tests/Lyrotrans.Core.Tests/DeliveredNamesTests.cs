using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Naming;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>What delivered files are called by pattern, cleaning and what was typed in.</summary>
public class DeliveredNamesTests
{
    private static readonly Session s_session = TestSessions.Of(
        TestSessions.Track("03_Cello_02", TestSessions.Clip("a", 0, 100)) with { Id = "cello", Output = "strings" },
        TestSessions.Track("Horn", TestSessions.Clip("b", 0, 100)) with { Id = "horn", Lanes = [new Lane("take 1", [TestSessions.Clip("b", 0, 100)]), new Lane("take 2", [])] },
        TestSessions.Track("horn", TestSessions.Clip("c", 0, 100)) with { Id = "horn-2" },
        new Track { Id = "strings", Name = "Strings", Kind = TrackKind.Bus, Channels = 2 }) with
    {
        Keys = [new KeyChange(0, 3, true)],
        Tempo = TempoMap.Constant(new Rational(185, 2)),
    };

    private static Preparation Prepared(string pattern) => Preparation.Default(s_session, TestFormats.Any) with { NamePattern = pattern, Encoding = SampleEncoding.Integer24 };

    [Theory]
    [InlineData("{order} {track} {group} {treatment}", "01_03_Cello_02_Strings_dry")]
    [InlineData("{track}_{tempo}_{key}", "03_Cello_02_92.5_Fsharpm")]
    [InlineData("{rate} {depth} {take} {version} {track}", "48k_24bit_03_Cello_02")]
    [InlineData("{session} {track} {date}", "Test_03_Cello_02_2026-11-30")]
    public void Every_field_says_what_it_stands_for(string pattern, string name) =>
        Assert.Equal(name, DeliveredNames.Of(s_session, Prepared(pattern).Dated(new DateOnly(2026, 11, 30)))["cello"]);

    [Fact]
    public void The_take_that_sounds_and_a_typed_version_are_in_names() =>
        Assert.Equal("Horn_take_1_v3", DeliveredNames.Of(s_session, Prepared("{track} {take} {version}") with { Version = "v3" })["horn"]);

    [Fact]
    public void The_day_is_kept_only_where_names_say_it()
    {
        var day = new DateOnly(2026, 11, 30);
        Assert.Null(Prepared("{track}").Dated(day).Date);
        Assert.Equal(day, Prepared("{track} {date}").Dated(day).Date);
        Assert.Null((Prepared("{track} {date}").Dated(day) with { NamePattern = "{track}" }).Dated(day).Date);
    }

    [Fact]
    public void A_number_in_front_is_not_doubled_and_stays_where_names_have_no_order()
    {
        var clean = new NameCleaning(Numbers: true, Takes: true);
        Assert.Equal("01_Cello", DeliveredNames.Of(s_session, Prepared("{order}_{track}") with { Cleaning = clean })["cello"]);
        Assert.Equal("03_Cello", DeliveredNames.Of(s_session, Prepared("{track}") with { Cleaning = clean })["cello"]);
        var typed = Prepared("{order}_{track}") with { Cleaning = clean };
        Assert.Equal("01_04_Bass_02", DeliveredNames.Of(s_session, typed with { Tracks = [.. typed.Tracks.Select(c => c.TrackId == "cello" ? c with { Name = "04_Bass_02" } : c)] })["cello"]);
    }

    [Fact]
    public void Names_that_would_be_one_file_are_numbered_and_said()
    {
        Assert.Equal(("Horn", "horn_2"), (DeliveredNames.Of(s_session, Prepared("{track}"))["horn"], DeliveredNames.Of(s_session, Prepared("{track}"))["horn-2"]));
        Assert.Equal(["horn-2"], DeliveredNames.Collided(s_session, Prepared("{track}")));
        Assert.Empty(DeliveredNames.Collided(s_session, Prepared("{order}_{track}")));
    }

    [Fact]
    public void The_click_has_the_fields_of_the_session_and_none_of_a_track()
    {
        var plan = DeliveryPlan.Make(s_session, Prepared("{order}_{track}_{group}_{treatment}_{key}") with { Click = new Clicking.ClickChoices(Print: true, TempoInName: true) }, new Dictionary<string, MediaSound>());
        Assert.Equal("Test/audio/04_Click_92.5_Fsharpm.wav", plan.Files.Single(f => f.Kind == PlannedKind.Click).Path);
    }
}
