using CsCheck;
using Lyrotrans.Audio.Mix;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Routing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

public class MixTests
{
    private const int Length = 6000;
    private static readonly int[] s_widths = [1, 2, 4];
    private static readonly Dictionary<string, double[][]> s_sounds = s_widths.ToDictionary(c => $"{c}", c => Enumerable.Range(0, c).Select(i => Sine.Noise(Length, c + (10 * i), 0.5)).ToArray());

    private static readonly Gen<Session> s_sessions =
        from tracks in Gen.Int[1, 5]
        from seed in Gen.Int[0, 1_000_000]
        select RandomSession(tracks, new Random(seed));

    private static Track Audio(string id, int channels, long at = 0) => new()
    {
        Id = id,
        Name = id,
        Channels = channels,
        Lanes = [new Lane("l", [new Clip { Id = id, Name = id, Media = $"{channels}", ChannelMap = [.. Enumerable.Range(0, channels)], Start = at, Length = Length }])],
    };

    private static Session Session(params Track[] tracks) => new()
    {
        Name = "t",
        Media = [.. s_sounds.Select(s => new Media { Id = s.Key, FileName = s.Key, Rate = SampleRate.Hz48000, Encoding = SampleEncoding.Integer24, Channels = s.Value.Length, Length = Length })],
        Tracks = tracks.ToValueArray(),
    };

    private static double[][] Render(Session session, string target, MixPoint point, int count, int block = 512, long from = 0, int threads = 1, string[]? only = null)
    {
        var sounding = session.Tracks.Select(t => t.Id).Where(id => only?.Contains(id) ?? true).ToHashSet();
        using var render = new MixRender(session, SignalPaths.Of(session)[target], point, sounding, new MixSounds(new ArrayOpener(s_sounds)), from, threads: threads);
        var result = Enumerable.Range(0, render.Channels).Select(_ => new double[count]).ToArray();
        var piece = Enumerable.Range(0, render.Channels).Select(_ => new double[block]).ToArray();
        for (var at = 0; at < count; at += block)
        {
            var now = Math.Min(block, count - at);
            render.Read(from + at, now, piece);
            for (var c = 0; c < result.Length; c++)
            {
                piece[c].AsSpan(0, now).CopyTo(result[c].AsSpan(at));
            }
        }

        return result;
    }

    /// <summary>Tracks, two buses, two returns and a master, with faders, automation, pans, sends and effects that are linear (a limiter that limits nothing is late).</summary>
    private static Session RandomSession(int count, Random dice)
    {
        double Db() => Math.Round((dice.NextDouble() * 18) - 12, 2);
        double Pan() => Math.Round((dice.NextDouble() * 2) - 1, 2);
        Automation? Ride(Func<double> value) => dice.Next(3) > 0 ? null : new Automation(
            [.. Enumerable.Range(0, 4).Select(i => new AutomationPoint((i * 1500) + dice.Next(1500), value()))], dice.Next(2) == 0 ? Interpolation.Linear : Interpolation.Step);
        ValueArray<Insert> Effects() => [.. Enumerable.Range(0, dice.Next(3)).Select(_ => dice.Next(3) switch
        {
            0 => new Insert("gain", [new Parameter("gain dB", Db())]),
            1 => new Insert("limiter", [new Parameter("ceiling dB", 0), new Parameter("look-ahead ms", dice.Next(1, 9))]) with { Bypassed = dice.Next(4) == 0 },
            _ => new Insert("delay", [new Parameter("time ms", dice.Next(1, 30)), new Parameter("mix %", 50), new Parameter("feedback", 0.3)]),
        })];
        Track Mixed(Track track, params string[] sendTo) => track with
        {
            FaderDb = Db() - 24,
            FaderAutomation = Ride(Db),
            Pan = Pan(),
            PanAutomation = Ride(Pan),
            Inverted = dice.Next(4) == 0,
            Inserts = track.Kind == TrackKind.Audio ? [new Insert("gain", [new Parameter("gain dB", -24)]), .. Effects()] : Effects(),
            Sends = [.. sendTo.Where(_ => dice.Next(2) == 0).Select(s => new Send(s, Db() - 12, dice.Next(2) == 0, Pan(), Ride(Db)))],
        };
        Track Way(string id, TrackKind kind, int channels) => new() { Id = id, Name = id, Kind = kind, Channels = channels };
        var sources = Enumerable.Range(0, count)
            .Select(i => Mixed(Audio($"t{i}", s_widths[dice.Next(3)], dice.Next(2000)), "r1", "r2", "b1") with { Output = dice.Next(3) switch { 0 => "b1", 1 => "b2", _ => null } }).ToList();
        return Session([
            .. sources,
            Mixed(Way("b1", TrackKind.Bus, 2), "r1"), Mixed(Way("b2", TrackKind.Bus, 1)) with { Output = "b1" },
            Mixed(Way("r1", TrackKind.Return, 2), "r2"), Mixed(Way("r2", TrackKind.Return, 2)),
            Mixed(Way("m", TrackKind.Master, 2)),
        ]) with
        { PanLaw = (PanLaw)dice.Next(4) };
    }

    [Fact]
    public void Every_path_is_within_minus_140_dB_of_a_plain_render() => s_sessions.Sample(session =>
    {
        const int count = Length + 8000;
        var reference = new PlainMix(session, s_sounds, count);
        foreach (var id in new[] { "t0", "b1", "r1", "r2", "m" })
        {
            Same(reference.After(id, effects: true), Render(session, id, MixPoint.AfterEffects, count));
            Same(reference.After(id, effects: false), Render(session, id, MixPoint.AfterPan, count, 333));
        }
    }, iter: Cases.Of(12));

    [Fact]
    public void Threads_make_no_difference() => s_sessions.Sample(
        session => Assert.Equal(Render(session, "m", MixPoint.AfterPan, Length), Render(session, "m", MixPoint.AfterPan, Length, threads: 4)), iter: Cases.Of(8));

    [Fact]
    public void Blocks_and_places_to_begin_make_no_difference() => s_sessions.Sample(session =>
    {
        var whole = Render(session, "m", MixPoint.AfterPan, Length, 2048);
        Assert.Equal(whole, Render(session, "m", MixPoint.AfterPan, Length, 77));
        var late = Render(session, "m", MixPoint.AfterPan, 1000, 100, 4321);
        Assert.Equal(whole.Select(c => c[4321..5321]), late);
    }, iter: Cases.Of(8));

    [Fact]
    public void Stems_sum_to_the_mix() => s_sessions.Sample(session =>
    {
        var mix = Render(session, "m", MixPoint.AfterPan, Length);
        var stems = session.Tracks.Where(t => t.Kind == TrackKind.Audio).Select(t => Render(session, "m", MixPoint.AfterPan, Length, only: [t.Id])).ToList();
        Same(mix, [.. mix.Select((channel, c) => channel.Select((_, i) => stems.Sum(s => s[c][i])).ToArray())]);
    }, iter: Cases.Of(10));

    [Fact]
    public void A_late_effect_on_one_of_two_same_tracks_leaves_them_together_through_sends_too()
    {
        var late = new Insert("limiter", [new Parameter("ceiling dB", 0), new Parameter("look-ahead ms", 7)]);
        var session = Session(
            Audio("a", 1) with { Inserts = [late], Sends = [new Send("r", 0)] }, Audio("b", 1) with { Inverted = true, Sends = [new Send("r", 0, PreFader: true)] },
            new Track { Id = "r", Name = "r", Kind = TrackKind.Return, Channels = 2 });
        Assert.All(Render(session, SignalPaths.Of(session).Master.Id, MixPoint.AfterPan, Length + 1000), c => Assert.All(c, v => Assert.Equal(0, v)));
        Assert.Equal(s_sounds["1"][0], Render(session, "a", MixPoint.AfterEffects, Length)[0]);
    }

    [Theory]
    [InlineData(PanLaw.Zero, 0)]
    [InlineData(PanLaw.Minus3, -3.01)]
    [InlineData(PanLaw.Minus4Point5, -4.515)]
    [InlineData(PanLaw.Minus6, -6.02)]
    public void Pan_laws_have_their_level_in_the_centre_and_none_at_the_sides(PanLaw law, double centre)
    {
        var (left, right) = law.Gains(0);
        Assert.Equal(centre, Sine.Db(left), 0.001);
        Assert.Equal(left, right, 1e-15);
        Assert.Equal((1, 0), law.Gains(-1));
        Assert.Equal((0, 1), law.Gains(1));
    }

    [Fact]
    public void Tracks_that_feed_each_other_in_a_circle_are_named()
    {
        Track Return(string id, string to) => new() { Id = id, Name = $"Return {id}", Kind = TrackKind.Return, Channels = 2, Sends = [new Send(to, -6)] };
        var session = Session(Audio("a", 1), Return("x", "y"), Return("y", "x"));
        Assert.Contains("Return x, Return y", Assert.Throws<InvalidOperationException>(() => Render(session, "a", MixPoint.AfterPan, 10)).Message);
    }

    private static void Same(double[][] meant, double[][] found)
    {
        Assert.Equal(meant.Length, found.Length);
        for (var c = 0; c < meant.Length; c++)
        {
            for (var i = 0; i < meant[c].Length; i++)
            {
                Assert.True(Math.Abs(meant[c][i] - found[c][i]) < 1e-7, $"channel {c}, sample {i}: {meant[c][i]} and {found[c][i]}");
            }
        }
    }
}
