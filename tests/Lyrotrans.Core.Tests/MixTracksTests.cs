using Lyrotrans.Core.Carrying;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>What sounds in mixes, apart from what goes.</summary>
public class MixTracksTests
{
    private static readonly Dictionary<string, MediaSound> s_noSounds = [];

    private static Track Voice(string id, long end, TrackState state = TrackState.Active) => new()
    {
        Id = id,
        Name = id,
        Channels = 1,
        State = state,
        Sends = [new Send("hall", 0)],
        Lanes = [new Lane("l", [new Clip { Id = id, Name = id, Media = "m", ChannelMap = [0], Length = end }])],
    };

    private static readonly Session s_session = new()
    {
        Name = "S",
        Media = [new Media { Id = "m", FileName = "m.wav", Rate = SampleRate.Hz48000, Encoding = SampleEncoding.Integer24, Channels = 1, Length = 500_000 }],
        Tracks =
        [
            Voice("a", 100_000), Voice("b", 300_000), Voice("muted", 100, TrackState.Muted), Voice("hidden", 100, TrackState.Hidden),
            new Track { Id = "empty", Name = "empty", Channels = 1 }, new Track { Id = "hall", Name = "hall", Kind = TrackKind.Return, Channels = 2 },
        ],
    };

    // a and what is muted go.
    private static Preparation Prepared(MixSounding sounding, params string[] marked)
    {
        var usual = Preparation.Default(s_session, TestFormats.Any);
        return usual with
        {
            Tail = 0,
            Mix = usual.Mix with { Sounding = sounding, Guide = true },
            Tracks = usual.Tracks.Select(c => c with { Treatment = c.TrackId is "a" or "muted" ? Treatment.PrintDry : Treatment.HoldBack, Marked = marked.Contains(c.TrackId) }).ToValueArray(),
        };
    }

    [Theory]
    [InlineData(MixSounding.WhatGoes, "a muted")]
    [InlineData(MixSounding.AllHere, "a b")]
    [InlineData(MixSounding.AllButMarked, "b")]
    [InlineData(MixSounding.OnlyMarked, "a hidden")]
    public void What_sounds_is_said_and_is_not_what_goes(MixSounding sounding, string meant) =>
        Assert.Equal(meant, string.Join(' ', MixTracks.Of(s_session, Prepared(sounding, "a", "hidden")).Order(StringComparer.Ordinal)));

    [Theory]
    [InlineData(MixSounding.WhatGoes, "what goes")]
    [InlineData(MixSounding.AllHere, "everything that sounds here")]
    [InlineData(MixSounding.AllButMarked, "all but a and b")]
    [InlineData(MixSounding.OnlyMarked, "a and b only")]
    public void Whoever_gets_it_reads_what_sounds(MixSounding sounding, string words) => Assert.Equal(words, MixTracks.Words(s_session, Prepared(sounding, "b", "a")));

    [Fact]
    public void A_new_preparation_has_everything_that_sounds_in_its_mixes() =>
        Assert.Equal(MixSounding.AllHere, Preparation.Default(s_session, TestFormats.Any).Mix.Sounding);

    [Fact]
    public void Files_are_as_long_as_what_sounds_in_them()
    {
        Assert.Equal(100_000, DeliveryRange.Of(s_session, Prepared(MixSounding.WhatGoes), s_noSounds).End);
        Assert.Equal(300_000, DeliveryRange.Of(s_session, Prepared(MixSounding.AllHere), s_noSounds).End);
        var alone = Prepared(MixSounding.AllHere);
        Assert.Equal(100_000, DeliveryRange.Of(s_session, alone with { Mix = alone.Mix with { Guide = false } }, s_noSounds).End);
        Assert.Equal(300_000, DeliveryRange.Of(s_session, alone with { Mix = new MixChoices(Sounding: MixSounding.AllHere), Tracks = [.. alone.Tracks.Select(c => c.TrackId == "hall" ? c with { Treatment = Treatment.PrintThrough } : c)] }, s_noSounds).End);
    }

    [Fact]
    public void What_does_not_go_and_sounds_is_printed_in_the_mix_and_held_back_elsewhere()
    {
        var plan = CarryPlan.Of(DeliveryPlan.Make(s_session, Prepared(MixSounding.AllHere), s_noSounds));
        Assert.Equal(0, plan.LostWithoutAWord);
        var places = plan.Rows.Single(r => r.Kind == "Clip positions").Objects.ToDictionary(o => o.Name, o => o.Fates);
        Assert.Equal(["prints", "guide mix", "MIDI", "record"], plan.Columns);
        Assert.Equal([Fate.Printed, Fate.Printed, Fate.None, Fate.Carried], places["a"]);
        Assert.Equal([Fate.HeldBack, Fate.Printed, Fate.HeldBack, Fate.HeldBack], places["b"]);
        Assert.Equal([Fate.Printed, Fate.None, Fate.None, Fate.Carried], places["muted"]);
        Assert.Equal([Fate.HeldBack, Fate.HeldBack, Fate.HeldBack, Fate.HeldBack], places["hidden"]);
    }

    [Theory]
    [InlineData(MixSounding.OnlyMarked, "none that sounds is marked", "empty")]
    [InlineData(MixSounding.AllButMarked, "Nothing is left to sound", "a", "b")]
    public void Mixes_of_nothing_are_refused_in_words(MixSounding sounding, string words, params string[] marked)
    {
        var preparation = Prepared(sounding, marked);
        Assert.Contains(words, DeliveryPlan.Make(s_session, preparation, s_noSounds).Problem, StringComparison.Ordinal);
        Assert.Null(DeliveryPlan.Make(s_session, preparation with { Mix = preparation.Mix with { Guide = false } }, s_noSounds).Problem);
    }

    [Fact]
    public void Stems_are_of_what_goes_whatever_sounds_in_the_guide() =>
        Assert.Equal(["a", "muted"], StemGroup.AllOf(s_session, Prepared(MixSounding.AllHere)).Order(StringComparer.Ordinal));

    [Fact]
    public void What_is_missing_of_what_only_sounds_is_said()
    {
        var session = s_session with { Media = [.. s_session.Media, s_session.Media[0] with { Id = "gone", FileName = "gone.wav", Place = MediaPlace.Missing }], Tracks = [.. s_session.Tracks.Select(t => t.Id == "b" ? t with { Lanes = [new Lane("l", [t.Lanes[0].Clips[0] with { Media = "gone" }])] } : t)] };
        Assert.Contains(DeliveryPlan.Make(session, Prepared(MixSounding.AllHere), s_noSounds).Gaps.Open, g => g.Of == "gone.wav");
        Assert.Empty(DeliveryPlan.Make(session, Prepared(MixSounding.WhatGoes), s_noSounds).Gaps.Open);
    }
}
