using System.Numerics;
using Lyrotrans.Audio.Effects;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Tests;

/// <summary>A made-up sound, and a mix that it lies in: at a level and polarity of its own, below others that are as loud, as it is or through effects.</summary>
internal sealed class HiddenSound
{
    public const int Rate = 48_000;
    private const int Kinds = 6;
    private readonly Random _random;

    public HiddenSound(int seed)
    {
        _random = new Random(seed);
        Kind = _random.Next(Kinds);
        Through = seed % 4;
        Times = seed % 11 == 10 ? 0 : seed % 13 == 12 ? 2 : 1;
        Sound = Make(Kind, (int)(Rate * 0.15 * Math.Pow(50, _random.NextDouble())));
        Mix = new double[Seconds(8, 14)];
        var at = _random.Next(Math.Max(1, Mix.Length - Sound.Length));
        var fraction = _random.Next(3) == 0 ? _random.NextDouble() - 0.5 : 0;
        Place = at + fraction;
        Gain = Math.Pow(10, ((_random.NextDouble() * 24) - 12) / 20) * (_random.Next(2) == 0 ? -1 : 1);
        var treated = Treated(fraction == 0 ? Sound : Shifted(Sound, fraction));
        Lay(treated, at, Gain);
        var loud = Math.Sqrt(Mix.AsSpan(at, Math.Min(Sound.Length, Mix.Length - at)).ToArray().Average(v => v * v));
        if (Times == 0)
        {
            Mix.AsSpan().Clear();
        }
        else if (Times == 2)
        {
            Again = _random.Next(Math.Max(1, Mix.Length - Sound.Length));
            Lay(treated, Again, Gain);
        }

        var others = new double[Mix.Length];
        for (var i = 0; i < 3; i++)
        {
            var other = Make(_random.Next(Kinds), Mix.Length);
            for (var s = 0; s < others.Length; s++)
            {
                others[s] += other[s];
            }
        }

        var own = Math.Sqrt(others.AsSpan(at, Math.Min(Sound.Length, Mix.Length - at)).ToArray().Average(v => v * v));
        for (var s = 0; s < others.Length; s++)
        {
            Mix[s] += others[s] * loud / own;
        }
    }

    /// <summary>Which of the makers below.</summary>
    public int Kind { get; }

    /// <summary>0 as it is, 1 an equaliser, 2 a compressor, 3 both.</summary>
    public int Through { get; }

    /// <summary>How often it lies in the mix: 0, 1 or 2 times.</summary>
    public int Times { get; }

    /// <summary>Where it lies a second time.</summary>
    public int Again { get; }

    public double[] Sound { get; }

    public double[] Mix { get; }

    /// <summary>Where the sound's first sample lies in the mix.</summary>
    public double Place { get; }

    /// <summary>All places that it lies at; where it does not, those that it would.</summary>
    public double[] Places => Times == 2 ? [Place, Again + Place - Math.Round(Place)] : [Place];

    /// <summary>As a ratio; below 0 where the polarity is the other one.</summary>
    public double Gain { get; }

    private int Seconds(double least, double most) => (int)(Rate * (least + (_random.NextDouble() * (most - least))));

    private void Lay(double[] sound, int at, double gain)
    {
        for (var i = 0; i < sound.Length && at + i < Mix.Length; i++)
        {
            Mix[at + i] += sound[i] * gain;
        }
    }

    private double Between(double least, double most) => least + (_random.NextDouble() * (most - least));

    private double[] Treated(double[] sound)
    {
        var inserts = new List<Insert>();
        if ((Through & 1) == 1)
        {
            inserts.Add(new Insert("equaliser", [new("low cut Hz", Between(0, 150)), new("bell Hz", Between(200, 5000)), new("bell dB", Between(-9, 9)), new("high shelf dB", Between(-9, 9))]));
        }

        if ((Through & 2) == 2)
        {
            inserts.Add(new Insert("compressor", [new("threshold dB", Between(-40, -20)), new("ratio", Between(2, 8)), new("attack ms", Between(1, 30)), new("release ms", Between(50, 300))]));
        }

        double[][] result = [[.. sound]];
        foreach (var effect in EffectRack.Of(inserts, SampleRate.Hz48000, 1))
        {
            effect.Process(result, sound.Length);
        }

        return result[0];
    }

    private static double[] Shifted(double[] sound, double by)
    {
        const int Reach = 64;
        var taps = Enumerable.Range(-Reach, (2 * Reach) + 1).Select(k => k - by).Select(x => (Math.Abs(x) < 1e-9 ? 1 : Math.Sin(Math.PI * x) / (Math.PI * x)) * (0.5 + (0.5 * Math.Cos(Math.PI * Math.Clamp(x / (Reach + 1), -1, 1))))).ToArray();
        var result = new double[sound.Length];
        for (var i = 0; i < sound.Length; i++)
        {
            for (var k = Math.Max(-Reach, i - sound.Length + 1); k <= Math.Min(Reach, i); k++)
            {
                result[i] += sound[i - k] * taps[k + Reach];
            }
        }

        return result;
    }

    private double[] Make(int kind, int length)
    {
        var result = new double[length];
        var regular = _random.Next(3) == 0;
        var beat = Between(0.2, 0.5);
        var steadyLevel = Between(0.3, 0.9);
        for (var at = 0.0; at < length; at += Rate * (regular ? beat : Between(0.08, 0.7)))
        {
            var level = regular ? steadyLevel : Between(0.2, 1);
            switch (kind)
            {
                case 0: Pluck(result, (int)at, level); break;
                case 1: Burst(result, (int)at, level, Between(0.02, 0.2)); break;
                case 2: Syllable(result, (int)at, level); break;
                case 3: Bowed(result, (int)at, level); break;
                case 4: Bell(result, (int)at, level); break;
                default: Burst(result, (int)at, level, 0.015); Pluck(result, (int)at, level); break;
            }
        }

        return result;
    }

    private double Pitch() => 110 * Math.Pow(2, _random.Next(0, 30) / 12.0);

    private void Pluck(double[] into, int at, double level)
    {
        var line = Enumerable.Range(0, (int)(Rate / Pitch())).Select(_ => level * ((2 * _random.NextDouble()) - 1)).ToArray();
        for (var i = 0; i < Rate && at + i < into.Length; i++)
        {
            var here = i % line.Length;
            into[at + i] += line[here];
            line[here] = 0.498 * (line[here] + line[(here + 1) % line.Length]);
        }
    }

    private void Burst(double[] into, int at, double level, double seconds)
    {
        var fall = Math.Exp(-1 / (seconds * Rate));
        for (var i = 0; i < seconds * 6 * Rate && at + i < into.Length; i++, level *= fall)
        {
            into[at + i] += level * ((2 * _random.NextDouble()) - 1);
        }
    }

    private void Syllable(double[] into, int at, double level)
    {
        var (hz, glide, length, formant, phase, low, band) = (Between(90, 240), Between(-60, 60), (int)(Rate * Between(0.1, 0.4)), Between(400, 2500), 0.0, 0.0, 0.0);
        for (var i = 0; i < length && at + i < into.Length; i++)
        {
            phase += (hz + (glide * i / length)) / Rate;
            var pulse = phase >= 1 ? 1.0 : 0;
            phase -= Math.Floor(phase);
            var f = 2 * Math.Sin(Math.PI * formant / Rate);
            low += f * band;
            band += f * (pulse + (0.02 * _random.NextDouble()) - low - (0.15 * band));
            into[at + i] += level * band * Math.Sin(Math.PI * i / length);
        }
    }

    private void Bowed(double[] into, int at, double level)
    {
        var (hz, vibrato, length) = (Pitch(), Between(4, 7), (int)(Rate * Between(0.4, 1.2)));
        var phase = 0.0;
        for (var i = 0; i < length && at + i < into.Length; i++)
        {
            phase += hz * (1 + (0.004 * Math.Sin(2 * Math.PI * vibrato * i / Rate))) / Rate;
            var (first, harmonic) = (Complex.FromPolarCoordinates(1, 2 * Math.PI * phase), Complex.One);
            var envelope = 0.3 * level * Math.Sin(Math.PI * i / length);
            for (var k = 1; k <= 8; k++)
            {
                harmonic *= first;
                into[at + i] += envelope / k * harmonic.Imaginary;
            }
        }
    }

    private void Bell(double[] into, int at, double level)
    {
        // No two strokes are alike: a second bell that sounds the same is a second place.
        var hz = Pitch() * Between(0.99, 1.01);
        foreach (var (ratio, seconds) in new[] { (1.0, 0.9), (2.0, 0.6), (2.76, 0.4), (5.4, 0.2), (8.9, 0.1) })
        {
            // A turn and a little less each sample: no sine is computed again.
            var turn = Complex.FromPolarCoordinates(Math.Exp(-1 / (seconds * Rate)), 2 * Math.PI * hz * ratio / Rate);
            var now = Complex.FromPolarCoordinates(0.3 * level, Between(0, 2 * Math.PI));
            for (var i = 0; i < seconds * 4 * Rate && at + i < into.Length; i++)
            {
                into[at + i] += now.Imaginary;
                now *= turn;
            }
        }
    }
}
