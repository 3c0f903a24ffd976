using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Tests;

/// <summary>Where tempo and key do not change. At 60 quarters a minute a quarter has 48 000 samples.</summary>
public sealed class SteadyMusicTests
{
    private static readonly Session s_session = TestSessions.Of() with
    {
        Tempo = new TempoMap([new TempoPoint(0, 60), new TempoPoint(4, 60, Ramp: true), new TempoPoint(8, 120), new TempoPoint(12, 120, Ramp: true), new TempoPoint(16, 120)]),
        Keys = [new KeyChange(2, -1, true), new KeyChange(6, 0, false)],
    };

    [Theory]
    [InlineData(0, 2, "60", "Dm")]
    [InlineData(0, 3, "60", "Dm")]
    [InlineData(2, 4, "60", "Dm")]
    [InlineData(2, 5, null, "Dm")]
    [InlineData(5, 7, null, null)]
    [InlineData(6, 8, null, "C")]
    [InlineData(8, 20, "120", "C")]
    [InlineData(30, 40, "120", "C")]
    public void What_changes_in_a_range_is_not_said(int from, int to, string? tempo, string? key)
    {
        var music = SteadyMusic.In(s_session, new SampleRange(s_session.Clock.SampleAt(from), s_session.Clock.SampleAt(to)));
        Assert.Equal((tempo, key), (music.Tempo?.ToString(), music.Key));
    }

    [Fact]
    public void Of_a_whole_session_every_point_counts()
    {
        Assert.Equal(new SteadyMusic(null, null), SteadyMusic.Of(s_session));
        Assert.Equal(new SteadyMusic(96, "Bb"), SteadyMusic.Of(s_session with { Tempo = TempoMap.Constant(96), Keys = [new KeyChange(0, -2, false)] }));
        Assert.Equal(new SteadyMusic(96, null), SteadyMusic.Of(s_session with { Tempo = TempoMap.Constant(96), Keys = [] }));
    }
}
