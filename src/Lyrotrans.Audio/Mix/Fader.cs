using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Audio.Mix;

/// <summary>A level with its automation, sample by sample: the sum of both in dB.</summary>
internal sealed class Fader(double levelDb, Automation? automation)
{
    private readonly double _level = Decibels.ToRatio(levelDb);

    public bool IsUnity => automation is null && _level == 1;

    /// <summary>Fills the gains of <paramref name="count"/> session samples from <paramref name="start"/> on.</summary>
    public void Fill(long start, int count, double[] gains)
    {
        if (automation is null)
        {
            Array.Fill(gains, _level, 0, count);
            return;
        }

        var (value, gain) = (double.NaN, _level);
        for (var i = 0; i < count; i++)
        {
            var now = automation.ValueAt(start + i);
            if (now != value)
            {
                (value, gain) = (now, _level * Decibels.ToRatio(now));
            }

            gains[i] = gain;
        }
    }
}
