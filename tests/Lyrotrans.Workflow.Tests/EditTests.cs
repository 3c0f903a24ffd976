using Lyrotrans.Core.ClipFormats;
using Lyrotrans.Core.Clicking;
using Lyrotrans.Core.Options;
using Lyrotrans.Formats.Preparations;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Formats.Registry;
using Lyrotrans.Workflow.Editing;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Workflow.Tests;

/// <summary>Changes of preparation and intake as operations, without a page.</summary>
public class EditTests
{
    private static readonly Session s_session = new()
    {
        Name = "Orrery Suite",
        Tracks = new[] { "bell", "horn", "cello" }.Select(n => new Track { Id = n, Name = n }).Append(new Track { Id = "keys", Name = "keys", Kind = TrackKind.Notes }).ToValueArray(),
    };

    private static readonly Preparation s_before = Preparation.Default(s_session, SessionFormats.Usual);

    private static readonly Preparation s_going = s_before with { Tracks = s_before.Tracks.Select(t => t with { Treatment = Treatment.PrintDry }).ToValueArray() };

    private static TrackSheetEdits Rows(params string[] tracks) => new(s_session, s_before, tracks);

    private static TrackChoice Row(Edit<Preparation> edit, string track) => edit.After!.Tracks.Single(c => c.TrackId == track);

    private static Edit<Preparation> Type(Preparation before, params (string Name, string Typed)[] fields) =>
        new PreparationEdit(s_session, before, fields.ToDictionary(f => f.Name, f => f.Typed), () => 5000).Apply();

    [Fact]
    public void A_change_of_marked_rows_leaves_the_others_and_says_how_many()
    {
        var edit = Rows("bell", "cello", "gone", "bell").Invert(true);
        Assert.Equal(["bell", "cello"], edit.After!.Tracks.Where(c => c.Inverted).Select(c => c.TrackId));
        Assert.Equal("2 tracks: polarity inverted", edit.Words);
        Assert.Equal("bell: stem Bells", Rows("bell").Group(" Bells ").Words);
        Assert.Null(Row(Rows("bell").Group("  "), "bell").Group);
        Assert.Equal(DeliveredChannels.Mono, Row(Rows("bell").Deliver(DeliveredChannels.Mono), "bell").Channels);
    }

    [Fact]
    public void A_row_takes_only_a_treatment_that_its_track_can_have()
    {
        var edit = Rows("bell", "keys").Treat(Treatment.NotesAndPrint);
        Assert.Equal(Row(new(s_before, "", null), "bell").Treatment, Row(edit, "bell").Treatment);
        Assert.Equal(Treatment.NotesAndPrint, Row(edit, "keys").Treatment);
        var all = TrackSheetEdits.TreatAll(s_before, Treatment.PrintDry, Treatment.KeepClips, "kept").After!;
        Assert.Equal(s_before.Tracks.Count(c => c.Treatment == Treatment.PrintDry), all.Tracks.Count(c => c.Treatment == Treatment.KeepClips));
    }

    [Fact]
    public void Rows_that_are_not_there_are_refused()
    {
        foreach (var edit in new[] { Rows("gone").Invert(true), Rows().Move(true), Rows("gone").Name("x"), Rows().Mark(true) })
        {
            Assert.Null(edit.After);
            Assert.Equal("There is no such track any more. Load the page again.", edit.Problem);
        }
    }

    [Fact]
    public void Further_forms_come_and_go_beneath_a_row_and_are_named_there()
    {
        var edit = new TrackSheetEdits(s_session, s_going, ["bell", "keys"]).Beneath(Treatment.KeepClips, goes: true);
        Assert.Equal("2 tracks: keep clips too, muted beneath", edit.Words);

        // Notes have no clips.
        Assert.Equal([new BeneathChoice(Treatment.KeepClips)], Row(edit, "bell").Beneath);
        Assert.Empty(Row(edit, "keys").Beneath);
        var named = new TrackSheetEdits(s_session, edit.After!, ["bell"]).NameBeneath(Treatment.KeepClips, " Bell edit ");
        Assert.Equal([new BeneathChoice(Treatment.KeepClips, "Bell edit")], Row(named, "bell").Beneath);
        Assert.Equal(named.After, PreparationDocument.Read(PreparationDocument.Write(named.After!), "p.json"));

        // What becomes the one that sounds is beneath no more; the same form is there once.
        Assert.Empty(Row(new TrackSheetEdits(s_session, named.After!, ["bell"]).Treat(Treatment.KeepClips), "bell").Beneath);
        Assert.Single(Row(new TrackSheetEdits(s_session, named.After!, ["bell"]).Beneath(Treatment.KeepClips, goes: true), "bell").Beneath);
        Assert.Empty(Row(new TrackSheetEdits(s_session, s_going, ["bell"]).Beneath(Treatment.PrintDry, goes: true), "bell").Beneath);
        Assert.Empty(Row(new TrackSheetEdits(s_session, named.After!, ["bell"]).Beneath(Treatment.KeepClips, goes: false), "bell").Beneath);
    }

    [Fact]
    public void Prints_go_without_the_effects_that_a_track_has_of_those_named()
    {
        var session = s_session with { Tracks = [.. s_session.Tracks.Select(t => t.Id == "bell" ? t with { Inserts = [new Insert("limiter"), new Insert("reverb"), new Insert("limiter")] } : t)] };
        var edit = new TrackSheetEdits(session, s_going, ["bell", "horn"]).Without(["limiter 2", "gone"]);
        Assert.Equal(["limiter 2"], Row(edit, "bell").Without);
        Assert.Empty(Row(edit, "horn").Without);
        Assert.Equal([false, false, true], PrintEffects.Kept(session.Tracks[0], Row(edit, "bell")).Inserts.Select(i => i.Bypassed));
        Assert.Equal(edit.After, PreparationDocument.Read(PreparationDocument.Write(edit.After!), "p.json"));
    }

    [Fact]
    public void Everything_that_sounds_goes_in_one_press_and_what_is_left_is_named()
    {
        var sounding = s_session with { Tracks = [.. s_session.Tracks.Select(t => t with { Kind = TrackKind.Audio, Lanes = [new Lane("l", [new Clip { Id = t.Id, Name = t.Id, Media = "m", Length = 9 }])] })] };
        var session = sounding with { Tracks = [.. sounding.Tracks.Select(t => t.Id == "horn" ? t with { Name = "Horn", State = TrackState.Hidden } : t)] };
        var none = s_before with { Tracks = [.. s_before.Tracks.Select(c => c with { Treatment = Treatment.HoldBack })] };
        var edit = new TrackSheetEdits(session, none, []).Everything();
        Assert.Equal("everything that sounds goes, left: Horn (hidden)", edit.Words);
        Assert.Equal(["bell", "cello", "keys"], edit.After!.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId).Order(StringComparer.Ordinal));

        // What was decided stays.
        var kept = new TrackSheetEdits(sounding, s_before with { Tracks = [.. s_before.Tracks.Select(c => c.TrackId == "bell" ? c with { Treatment = Treatment.KeepClips } : c)] }, []).Everything();
        Assert.Equal(Treatment.KeepClips, Row(kept, "bell").Treatment);
    }

    [Fact]
    public void All_but_the_marked_rows_are_held_back_and_nothing_is_where_none_is_marked()
    {
        var edit = new TrackSheetEdits(s_session, s_going, ["bell", "keys"]).HoldOthers();
        Assert.Equal("all held back but 2 tracks", edit.Words);
        Assert.Equal(["bell", "keys"], edit.After!.Tracks.Where(c => c.Treatment != Treatment.HoldBack).Select(c => c.TrackId));
        Assert.Contains("nothing would go", Rows().HoldOthers().Problem, StringComparison.Ordinal);
    }

    [Fact]
    public void Stems_go_by_bus_by_track_or_by_the_first_word_of_names_in_one_press()
    {
        var named = s_session with { Tracks = [.. s_session.Tracks.Select(t => t with { Name = t.Id switch { "bell" => "Horn close", "horn" => "horn_room", _ => t.Name } })] };
        string?[] Groups(string by) => [.. new TrackSheetEdits(named, s_going, []).Stems(by).After!.Tracks.Select(c => c.Group)];
        Assert.Equal(["Horn", "Horn", "cello", "keys"], Groups("name"));
        Assert.Equal(["Horn close", "horn_room", "cello", "keys"], Groups("track"));
        Assert.All(Groups("bus"), Assert.Null);
        Assert.True(new TrackSheetEdits(named, s_going, []).Stems("bus").After!.Mix.Stems);
        Assert.NotNull(Rows().Stems("mood").Problem);
    }

    [Fact]
    public void Rows_are_put_in_order_by_name_by_stem_and_as_in_the_session()
    {
        string[] Order(Preparation preparation, string by) => [.. new TrackSheetEdits(s_session, preparation, []).Sort(by).After!.Tracks.Select(c => c.TrackId)];
        var named = s_before with { Tracks = [.. s_before.Tracks.Select((c, i) => c with { Name = $"part {10 - i}", Group = $"g{i % 2}" })] };
        Assert.Equal(s_before.Tracks.Select(c => c.TrackId).Reverse(), Order(named, "name"));
        Assert.Equal(s_before.Tracks.Select((c, i) => (c.TrackId, i)).OrderBy(c => c.i % 2).Select(c => c.TrackId), Order(named, "stem"));
        Assert.Equal(s_session.Tracks.Select(t => t.Id).Where(id => named.Tracks.Any(c => c.TrackId == id)), Order(named with { Tracks = [.. named.Tracks.Reverse()] }, "session"));
        Assert.NotNull(Rows("bell").Sort("mood").Problem);
    }

    [Fact]
    public void A_row_moves_by_one_and_stays_at_the_end()
    {
        string[] Order(Edit<Preparation> edit) => [.. edit.After!.Tracks.Select(c => c.TrackId)];
        Assert.Equal(["horn", "bell", "cello", "keys"], Order(Rows("bell").Move(down: true)));
        Assert.Equal(["bell", "horn", "cello", "keys"], Order(Rows("bell").Move(down: false)));
        Assert.Equal("horn: moved up", Rows("horn").Move(down: false).Words);
    }

    [Theory]
    [InlineData("{order}_{track}_v2", "02_Horn close_v2", "Horn close")]
    [InlineData("{order}_{track}_v2", " Horn close ", "Horn close")]
    [InlineData("{track}", "02_Horn", "02_Horn")]
    [InlineData("{track}", "  ", null)]
    public void A_typed_name_is_the_track_s_part_of_it(string pattern, string typed, string? name)
    {
        var edit = new TrackSheetEdits(s_session, s_going with { NamePattern = pattern }, ["horn"]).Name(typed);
        Assert.Equal(name, Row(edit, "horn").Name);
    }

    [Fact]
    public void A_name_needs_a_place_in_the_pattern() =>
        Assert.Contains("no {track}", new TrackSheetEdits(s_session, s_before with { NamePattern = "{order}" }, ["horn"]).Name("x").Problem!, StringComparison.Ordinal);

    [Fact]
    public void What_has_no_field_stays_as_it_is()
    {
        var before = s_before with { ChosenStart = 77, Tail = 1234 };
        Assert.Equal((before, string.Empty), (Type(before).After, Type(before).Words));
        var end = Type(before, (PreparationEdit.ToChosen, "true"));
        Assert.Equal((5000L, "files to sample 5000"), (end.After!.ChosenEnd, end.Words));
        Assert.Null(Type(end.After, (PreparationEdit.ToChosen, "false"), ("files.chosenEnd", "7")).After!.ChosenEnd);
        Assert.Equal(24_000, Type(before, ("files.tail", "1/2 s")).After!.Tail);
        Assert.Equal("clips: media trimmed, handles of 500 ms", Type(before, ("clips.trimmed", "true"), ("clips.handle", "500")).Words);
    }

    [Fact]
    public void A_field_that_says_what_it_showed_changes_nothing_though_it_shows_less()
    {
        var before = s_before with { Tail = 1234, Click = s_before.Click with { LevelDb = -3.25 } };
        Assert.Equal(before, Type(before, ("files.tail", "0.026"), ("click.levelDb", "−3.2"), ("files.namePattern", before.NamePattern)).After);
        Assert.Equal(1296, Type(before, ("files.tail", "0.027")).After!.Tail);

        // What the format in force cannot have is kept for one that can.
        var narrow = SessionFormats.OfClips.First(f => !f.Clips.Media.Contains(ClipMediaForm.InsideSamples)).Clips;
        var clips = s_before with { Clips = new ClipChoices(narrow) { Media = ClipMediaForm.InsideSamples } };
        var shown = OptionTyping.Shown(PreparationOptions.Clips["media"], clips.Clips.AsFormatHas, s_session);
        Assert.NotEqual("inside, samples", shown);
        Assert.Equal(clips, Type(clips, ("clips.media", shown)).After);
    }

    [Fact]
    public void Every_option_is_typed_told_and_written()
    {
        TypeAll("files", PreparationOptions.Files, p => p);
        TypeAll("mix", PreparationOptions.Mix, p => p.Mix);
        foreach (var kind in Choices.FileKinds)
        {
            TypeAll($"kinds.{kind.Id}", PreparationOptions.Kind, p => p.Kinds[kind.Value]);
        }

        TypeAll("midi", PreparationOptions.Midi, p => p.Midi);
        TypeAll("click", PreparationOptions.Click, p => p.Click);
        TypeAll("clips", PreparationOptions.Clips, p => p.Clips);
    }

    private static void TypeAll<T>(string part, OptionTable<T> options, Func<Preparation, T> of)
    {
        // A start that is chosen, so that its place is told.
        var before = s_before with { From = RangeStart.Chosen };
        foreach (var option in options)
        {
            var shown = OptionTyping.Shown(option, of(before), s_session);
            var typed = Another(option, shown);
            var edit = Type(before, ($"{part}.{option.Id}", typed));
            Assert.True(edit.Problem is null, edit.Problem);
            Assert.NotEqual(string.Empty, edit.Words);
            Assert.Equal(typed, OptionTyping.Shown(option, of(edit.After!), s_session));
            Assert.Equal(edit.After, PreparationDocument.Read(PreparationDocument.Write(edit.After!), "p.json"));
            Assert.Equal(before, Type(edit.After!, ($"{part}.{option.Id}", shown)).After);
            IsShownSideBySide(before, edit.After!, option.Id);
            Assert.True(option is TextOption<T> || Type(before, ($"{part}.{option.Id}", "as the wind blows")).Problem is not null, option.Id);
        }
    }

    // What differs for two receivers, or from one revision to the next, is shown.
    private static void IsShownSideBySide(Preparation one, Preparation other, string what) => Assert.True(
        ReceiverComparison.Of(s_session, Core.Receiving.ReceiverList.Of([new Core.Receiving.Receiver("1", string.Empty, one), new Core.Receiving.Receiver("2", string.Empty, other)], 3)).Count > 0, what);

    [Fact]
    public void Whatever_a_row_says_is_shown_where_it_differs()
    {
        foreach (var option in PreparationOptions.Track)
        {
            var row = s_going.Tracks[0];
            var changed = option switch
            {
                ChoiceOption<TrackChoice> choice => choice.With(row, choice.Values.First(v => v.Id != choice.Of(row)).Id),
                TextOption<TrackChoice> text => text.With(row, "another"),
                TruthOption<TrackChoice> truth => truth.With(row, !truth.Of(row)),
                _ => throw new NotSupportedException(option.Id),
            };
            IsShownSideBySide(s_going, s_going with { Tracks = [changed, .. s_going.Tracks.Skip(1)] }, option.Id);
        }

        IsShownSideBySide(s_going, s_going with { Tracks = [s_going.Tracks[0] with { Beneath = [new BeneathChoice(Treatment.KeepClips)] }, .. s_going.Tracks.Skip(1)] }, "beneath");
        IsShownSideBySide(s_going, s_going with { Tracks = [s_going.Tracks[0] with { Without = ["limiter"] }, .. s_going.Tracks.Skip(1)] }, "without");
    }

    private static string Another<T>(Option<T> option, string shown) => option switch
    {
        ChoiceOption<T> choice => choice.Values.First(v => v.Id != shown && v.Id != "float 32").Id,
        TruthOption<T> => shown == "true" ? "false" : "true",
        TextOption<T> { Id: "nameDate" } => "2026-03-21",
        TextOption<T> => "{track}",
        NumberOption<T> => "−12.5",
        WholeOption<T> { Offered: [var rate, ..] } => rate.ToString(System.Globalization.CultureInfo.InvariantCulture),
        WholeOption<T> { Unit: WholeUnit.Duration } => "2.500",
        WholeOption<T> { Unit: WholeUnit.Place } => "00:00:01:00",
        _ => "2",
    };

    [Fact]
    public void Accents_keep_their_order_and_usual_ones_are_not_kept()
    {
        var seven = Type(s_before, ("accents.7/8", "3+2+2"), ("accents.4/4", "2+2"));
        Assert.Equal("accents 4/4 as 2+2, 7/8 as 3+2+2", seven.Words);
        Assert.Equal(["7/8"], Type(seven.After!, ("accents.4/4", "4")).After!.Click.Accents.Select(a => $"{a.Beats}/{a.BeatUnit}"));
        Assert.Equal("usual accents", Type(Type(s_before, ("accents.7/8", "3+2+2")).After!, ("accents.7/8", AccentPattern.Usual(new Core.Time.MeterChange(1, 7, 8)).ToString())).Words);
        Assert.Contains("7 beats of 7/8", Type(s_before, ("accents.7/8", "2+2")).Problem!, StringComparison.Ordinal);
        Assert.Contains("no meter", Type(s_before, ("accents.seven", "2+2")).Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void A_format_keeps_what_the_one_before_let_choose()
    {
        var (first, other) = (SessionFormats.OfClips[0], SessionFormats.OfClips[1]);
        var option = first.Clips.Options[0];
        var before = s_before with { Clips = new ClipChoices(first.Clips) };
        var edit = Type(before, (PreparationEdit.File, other.Id), (PreparationEdit.FormatPart + option.Id, option.Values[1].Id));
        Assert.Equal((other.Clips, option.Values[1].Id), (edit.After!.Clips.Format, edit.After.Clips.Options[option]));
        Assert.Equal($"clips: {other.Id}", edit.Words);
        Assert.Contains("no format of clips \"XYZ\"", Type(before, (PreparationEdit.File, "XYZ")).Problem!, StringComparison.Ordinal);
        Assert.Contains("There is no \"red\" here", Type(before, (PreparationEdit.FormatPart + option.Id, "red")).Problem!, StringComparison.Ordinal);
    }

    [Theory]
    [InlineData("files.namePattern", "", "1 to 100 characters")]
    [InlineData("files.namePattern", "{nothing}", "{nothing}")]
    [InlineData("files.chosenStart", "noon", "\"noon\" cannot be taken for chosen start: a timecode, a bar such as 17.1.0, seconds such as 12.5 s, a sample, or the name of a marker")]
    [InlineData("files.chosenEnd", "late", "\"late\" cannot be taken for chosen end")]
    [InlineData("files.tail", "-1", "\"-1\" cannot be taken for tail")]
    [InlineData("files.tail", "3601", "0 to 3600 seconds")]
    [InlineData("files.tail", "", "0 to 3600 seconds")]
    [InlineData("files.longestTail", "601", "0 to 600 seconds")]
    [InlineData("files.encoding", "unsigned 8", "depth can be 16 bit, 24 bit, 32 bit or 32 bit float")]
    [InlineData("files.container", "tape", "file format can be WAV, FLAC or AIFF")]
    [InlineData("files.ditherTo24", "maybe", "\"maybe\" cannot be taken")]
    [InlineData("files.deliveredRate", "7999", "8000 to 768000 Hz")]
    [InlineData("kinds.stems.rate", "fast", "8000 to 768000 Hz")]
    [InlineData("kinds.stems.encoding", "float 64", "depth can be as usual, 16 bit, 24 bit, 32 bit or 32 bit float")]
    [InlineData("click.levelDb", "1", "−24 to 0 dBFS")]
    [InlineData("click.levelDb", "NaN", "−24 to 0 dBFS")]
    [InlineData("click.countInBars", "3", "0 to 2 bars")]
    [InlineData("clips.handle", "10000001", "whole number of milliseconds")]
    [InlineData("clips.handle", "", "whole number of milliseconds")]
    public void What_cannot_be_taken_is_refused_with_why(string field, string typed, string why)
    {
        var edit = Type(s_before, (field, typed));
        Assert.Null(edit.After);
        Assert.Contains(why, edit.Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void What_no_file_holds_is_refused()
    {
        Assert.Contains("FLAC holds no float", Type(s_before, ("files.container", "flac"), ("files.encoding", "float 32")).Problem!, StringComparison.Ordinal);
        Assert.Contains("AIFF does not hold 32 bit float", Type(s_before, ("files.container", "aiff"), ("files.encoding", "float 32")).Problem!, StringComparison.Ordinal);
        var fast = new PreparationEdit(s_session with { Rate = new Core.Time.SampleRate(96_000) }, s_before, new Dictionary<string, string> { ["mix.copies"] = "all", ["mix.copyForm"] = "mp3" }, () => 0).Apply();
        Assert.Contains("MP3 has no rate", fast.Problem!, StringComparison.Ordinal);
    }

    [Fact]
    public void Files_begin_on_the_beat_before()
    {
        var edit = PreparationEdit.OnBeat(s_session, s_before, s_session.Clock.SampleAt(3) + 100);
        Assert.Equal((RangeStart.Chosen, s_session.Clock.SampleAt(3)), (edit.After!.From, edit.After.ChosenStart));
        Assert.StartsWith("files from 1.4", edit.Words, StringComparison.Ordinal);
    }

    [Fact]
    public void A_name_typed_below_spare_takes_loses_the_number_that_it_was_shown_with()
    {
        Lane Take(string name) => new(name, [new Clip { Id = name, Name = name, Media = "m", Length = 9 }]);
        var session = s_session with { Tracks = [s_session.Tracks[0] with { Lanes = [Take("one"), Take("two"), Take("three")] }, s_session.Tracks[1]] };
        var before = s_before with { Tracks = [new TrackChoice("bell", Treatment.PrintDry, Spares: true), new TrackChoice("horn", Treatment.PrintDry)] };
        Assert.Equal("Solo", Row(new TrackSheetEdits(session, before, ["horn"]).Name("04_Solo"), "horn").Name);
    }

    [Fact]
    public void The_range_of_a_marker_is_its_own_or_up_to_the_next_one()
    {
        var session = s_session with
        {
            Tracks = [s_session.Tracks[0] with { Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = "m", Length = 9000 }])] }],
            Markers = [new Marker("song", "Comet", 1000, 500), new Marker("a", "Dawn", 2000), new Marker("b", "Dusk", 5000), new Marker("late", "After", 9500)],
        };
        (RangeStart, long, long?) Range(string id) => PreparationEdit.RangeOf(session, s_before, id).After is { } p ? (p.From, p.ChosenStart, p.ChosenEnd) : default;
        Assert.Equal((RangeStart.Chosen, 1000, 1500L), Range("song"));
        Assert.Equal((RangeStart.Chosen, 2000, 5000L), Range("a"));
        Assert.Equal("files of Dusk", PreparationEdit.RangeOf(session, s_before, "b").Words);
        Assert.Equal((RangeStart.Chosen, 5000, 9500L), Range("b"));
        Assert.Contains("Nothing of the session lies at", PreparationEdit.RangeOf(session, s_before, "late").Problem!, StringComparison.Ordinal);
        Assert.NotNull(PreparationEdit.RangeOf(session, s_before, "gone").Problem);
    }

    [Fact]
    public void A_range_of_nothing_or_past_the_end_is_refused_and_nothing_changes()
    {
        var session = s_session with { Tracks = [s_session.Tracks[0] with { Lanes = [new Lane("l", [new Clip { Id = "c", Name = "c", Media = "m", Length = 48_000 }])] }] };
        Edit<Preparation> Typed(Preparation before, params (string Name, string Value)[] fields) => new PreparationEdit(session, before, fields.ToDictionary(f => f.Name, f => f.Value), () => 0).Apply();
        var chosen = s_before with { From = RangeStart.Chosen, ChosenStart = 1000, ChosenEnd = 9000 };
        Assert.Contains("Choose a later end", Typed(chosen, ("files.chosenEnd", "1000")).Problem!, StringComparison.Ordinal);
        Assert.Contains("ends at 00:00:01:00", Typed(chosen with { ChosenEnd = null }, ("files.chosenStart", "48000")).Problem!, StringComparison.Ordinal);
        Assert.Equal(47_999, Typed(chosen with { ChosenEnd = null }, ("files.chosenStart", "47999")).After!.ChosenStart);

        // What stood so before holds nothing else up.
        Assert.Null(Typed(chosen with { ChosenEnd = 5 }, ("files.namePattern", "{track}")).Problem);
    }

    [Fact]
    public void Overs_are_met_with_float_or_lowered()
    {
        Assert.Equal("32 bit float", PreparationEdit.AsFloat(s_before with { Container = SoundContainer.Wav }).Words);
        Assert.Equal(OversPolicy.Lower, PreparationEdit.LowerOvers(s_before).After!.Overs);
        Assert.Equal("mix before the master's effects", PreparationEdit.BeforeMaster(s_before with { Mix = s_before.Mix with { Master = StemMaster.Through } }).Words);
    }

    private static IntakeItem Item(string id, bool sound = false) => new()
    {
        Id = id,
        Name = $"in/{id}.wav",
        Sha256 = id,
        Sound = sound ? new Sounds.SoundFileFacts("WAVE", SampleEncoding.Integer16, 1, "48000", 10, null, []) : null,
    };

    private const string Gone = "That is not there any more. Load the page again.";

    private static readonly IntakeState s_intake = new() { Items = [Item("a", true), Item("b", true), Item("map")] };

    private static IntakeEdits Intake(IntakeState? before = null)
    {
        var session = s_session with { Media = [new Media { Id = "m1", FileName = "m1.wav", Channels = 1 }, new Media { Id = "m2", FileName = "m2.wav", Channels = 1 }] };
        Core.Relinking.Evidence Doubt(string item) => new(item, item, 1, [], []);
        var missing = new[] { new MissingMedia("m1", "m1.wav", "mono", 1, "bell", "none is beyond doubt", [Doubt("a")]), new MissingMedia("m2", "m2.wav", "mono", 1, "horn", "two could be it", [Doubt("a"), Doubt("b")]) };
        return new(before ?? s_intake, session, new JoinedSession(session, new Dictionary<string, PlacedItem>(), missing, [], [], null, [], ["Suite", "Encore"], [], true));
    }

    [Fact]
    public void A_source_is_placed_and_says_so()
    {
        var edit = Intake().Place("a", PlacementRule.Offset, "−1 200 samples");
        Assert.Equal(new Placement(PlacementRule.Offset, -1200), edit.After!.Items[0].Placement);
        Assert.Equal("placed a.wav at sample -1200", edit.Words);
        Assert.Equal("placed a.wav at session start", Intake().Place("a", PlacementRule.SessionStart, null).Words);
        Assert.Equal("\"soon\" is no whole number of samples.", Intake().Place("a", PlacementRule.Offset, "soon").Problem);
        Assert.Equal(Gone, Intake().Place("gone", PlacementRule.SessionStart, null).Problem);
    }

    [Fact]
    public void Each_file_is_taken_for_one_medium_in_doubt()
    {
        var links = Intake().LinkLikeliest().After!.Links;
        Assert.Equal([("m1", "a"), ("m2", "b")], links.Select(l => (l.Key, l.Value)).Order());
        var taken = Intake(s_intake with { Links = new Dictionary<string, string> { ["m9"] = "a" } }).LinkLikeliest().After!.Links;
        Assert.False(taken.ContainsKey("m1"));
        Assert.Equal("m1.wav is b.wav", Intake().Link("m1", "b").Words);
        Assert.Equal(Gone, Intake().Link("m1", "map").Problem);
        Assert.Equal(["m2"], Intake(s_intake with { Links = links }).Unlink("m1").After!.Links.Keys);
    }

    [Fact]
    public void A_rate_is_declared_and_taken_back()
    {
        Assert.Equal("44100", Intake().DeclareRate("a", "44100").After!.Items[0].DeclaredRate);
        Assert.Equal("a.wav has the rate of its header again", Intake().DeclareRate("a", null).Words);
        Assert.Contains("no rate", Intake().DeclareRate("a", "17").Problem!, StringComparison.Ordinal);
        Assert.Equal(Gone, Intake().DeclareRate("map", "44100").Problem);
    }

    [Fact]
    public void Who_leads_and_whose_markers_count_is_decided()
    {
        var edited = s_intake with { ChannelEdits = [new ChannelEdit(["bell"], null, [])] };
        Assert.Equal(("map", "map.wav leads in tempo and meter"), (Intake().Lead("map").After!.MapFrom, Intake().Lead("map").Words));
        Assert.Equal(Gone, Intake().Lead("gone").Problem);
        Assert.Equal(("a", null), (Intake().MarkersFrom("a").After!.MarkersFrom, Intake().MarkersFrom(null).After!.MarkersFrom));
        Assert.Empty(Intake(edited).TakeComposition("Encore").After!.ChannelEdits);
        Assert.Equal("There is no such composition.", Intake().TakeComposition("Overture").Problem);
        Assert.Empty(Intake(edited).UndoChannels().After!.ChannelEdits);
        Assert.Equal("joined bell and horn to Both", Intake().Join(new ChannelEdit(["bell", "horn"], "Both", []), "Both").Words);
        Assert.Equal("There is no such track to split.", Intake().Split("bell").Problem);
    }

    [Fact]
    public void The_facts_of_a_session_are_checked()
    {
        var edit = Intake().Facts(" Suite ", "Transfer", "25", "10:00:00:00");
        Assert.Equal(("Suite", "25", "10:00:00:00"), (edit.After!.SessionName, edit.After.FrameRate, edit.After.Start));
        Assert.Equal("Transfer", Intake().Facts("", "Transfer", "25", null).After!.SessionName);
        Assert.Contains("no frame rate", Intake().Facts("", "Transfer", "26", null).Problem!, StringComparison.Ordinal);
        Assert.Contains("no timecode", Intake().Facts("", "Transfer", "25", "10:00:00:25").Problem!, StringComparison.Ordinal);
    }
}
