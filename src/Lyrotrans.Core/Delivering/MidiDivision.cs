using System.Numerics;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Delivering;

/// <summary>Ticks per quarter of the MIDI files of a session: a multiple of every part's own, so that no note is requantised.</summary>
public static class MidiDivision
{
    /// <summary>The format's largest (RP-001, division).</summary>
    public const int Largest = 32_767;

    private const int Usual = 480;

    /// <summary>The least common multiple of 480 and the parts' ticks, as far as the format can say it.</summary>
    public static int Of(Session session)
    {
        var result = (long)Usual;
        foreach (var ticks in session.Tracks.SelectMany(t => t.Parts).Select(p => p.TicksPerQuarter).Distinct().Order())
        {
            var next = result / (long)BigInteger.GreatestCommonDivisor(result, ticks) * ticks;
            result = next <= Largest ? next : result;
        }

        return (int)result;
    }

    /// <summary>Whether a place lies on a tick to the nearest sample.</summary>
    public static bool Holds(Session session, int division, long sample)
    {
        var clock = session.Clock;
        var tick = (clock.QuarterAt(sample) * division).RoundToEven();
        return clock.SampleAt(new Rational(tick, division)) == sample;
    }
}
