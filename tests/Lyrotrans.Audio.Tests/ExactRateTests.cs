using CsCheck;
using Lyrotrans.Audio.Render;
using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Joining;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>A session at another rate: its sound stays where it was, to the last part of a sample.</summary>
public class ExactRateTests
{
    private const int Length = 40_000;
    private const double Hz = 997;
    private static readonly Gen<long> s_rates = Gen.Int[0, 4].Select(i => new[] { 44_100L, 88_200, 96_000, 47_952, 32_000 }[i]);

    private static Session Of(params Clip[] clips) => new()
    {
        Name = "t",
        Media = [new Media { Id = "a", FileName = "a", Rate = SampleRate.Hz48000, Length = Length }],
        Tracks = [new Track { Id = "t", Name = "t", Lanes = [new Lane("l", clips.ToValueArray())] }],
    };

    private static Clip Piece(long start, long end, long displaced) => new() { Id = $"{start}", Name = "c", Media = "a", Start = start, Length = end - start, SourceOffset = start - displaced };

    private static double[] Render(Session session, double[] sound)
    {
        using var render = new TrackRender(session, session.Tracks[0], new ArrayOpener(new() { ["a"] = [sound] }));
        var result = new double[session.EndSample];
        render.Read(0, result.Length, [result]);
        return result;
    }

    [Fact]
    public void A_recording_that_was_cut_into_pieces_sounds_as_if_it_had_not_been() =>
        Gen.Select(s_rates, Gen.Long[0, 5000], Gen.Long[100, 20_000].Array[1, 8]).Sample(
            (hz, displaced, cuts) =>
            {
                var sound = Sine.Make(Hz, 48_000, Length);
                var rate = SampleRate.FromHz(hz);
                long[] places = [displaced, .. cuts.Select(c => displaced + c).Distinct().Order(), displaced + 30_001];
                var whole = Render(SessionMove.Exactly(Of(Piece(displaced, displaced + 30_001, displaced)), rate), sound);
                var cut = Render(SessionMove.Exactly(Of([.. places.Zip(places.Skip(1), (a, b) => Piece(a, b, displaced))]), rate), sound);
                Assert.Equal(whole.Length, cut.Length);
                Assert.True(whole.Zip(cut, (a, b) => Math.Abs(a - b)).Max() < 1e-9);
            },
            iter: 40);

    [Theory]
    [InlineData(44_100)]
    [InlineData(96_000)]
    [InlineData(47_952)]
    public void The_sound_lies_where_it_lay(long hz)
    {
        // A piece that begins at an odd sample, far from the recording's own edges.
        var (start, displaced) = (7001L, 1303L);
        var made = Render(SessionMove.Exactly(Of(Piece(start, start + 20_000, displaced)), SampleRate.FromHz(hz)), Sine.Make(Hz, 48_000, Length));
        var worst = 0.0;
        for (var n = (long)Math.Ceiling((start + 10.0) * hz / 48_000); n < (start + 19_990) * hz / 48_000; n++)
        {
            var seconds = (n / (double)hz) - (displaced / 48_000.0);
            worst = Math.Max(worst, Math.Abs(made[n] - (0.5 * Math.Sin(2 * Math.PI * Hz * seconds))));
        }

        Assert.True(worst < 1e-6, $"{worst}");
    }

    [Fact]
    public void The_largest_move_is_that_of_the_farthest_boundary() => Gen.Select(s_rates, Gen.Long[0, 1_000_000].Array[1, 12]).Sample((hz, starts) =>
    {
        var session = Of([.. starts.Distinct().Order().Select(s => Piece(s, s + 1, s))]) with { Bar1Sample = 0 };
        var rate = SampleRate.FromHz(hz);
        var meant = session.Tracks[0].Lanes[0].Clips.SelectMany(c => new[] { c.Start, c.End }).Max(p =>
        {
            var exact = (decimal)p * hz / 48_000;
            return (double)Math.Abs(exact - Math.Round(exact, MidpointRounding.ToEven));
        });
        Assert.Equal(meant, SessionMove.LargestMove(session, rate), 9);
    });
}
