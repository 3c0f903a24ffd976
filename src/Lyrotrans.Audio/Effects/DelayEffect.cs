namespace Lyrotrans.Audio.Effects;

/// <summary>Echoes: the sound again after a time in whole samples, and each echo again, lower by the feedback.</summary>
public sealed class DelayEffect(int time, double feedback, double mix, int channels) : IEffect
{
    private readonly double[][] _line = Enumerable.Range(0, channels).Select(_ => new double[Math.Max(1, time)]).ToArray();
    private int _place;

    public long Latency => 0;

    public void Process(double[][] samples, int count)
    {
        var place = _place;
        for (var c = 0; c < _line.Length; c++)
        {
            place = _place;
            var line = _line[c];
            for (var i = 0; i < count; i++)
            {
                var echo = line[place];
                var x = samples[c][i];
                line[place] = x + (feedback * echo);
                samples[c][i] = ((1 - mix) * x) + (mix * echo);
                place = place + 1 == line.Length ? 0 : place + 1;
            }
        }

        _place = place;
    }
}
