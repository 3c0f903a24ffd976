namespace Lyrotrans.Demo;

/// <summary>Simple sounds from a fixed seed: additive strings and brass, struck skins and bells, noise, a formant voice.</summary>
internal sealed class Synth(int rate, uint seed)
{
    private uint _state = (seed * 2654435761u) | 1;

    /// <summary>0 … 1, the same row for the same seed.</summary>
    public double Next()
    {
        _state ^= _state << 13;
        _state ^= _state >> 17;
        _state ^= _state << 5;
        return _state / 4294967296.0;
    }

    /// <summary>Sustained notes of a bowed or blown instrument, one after another.</summary>
    public double[] Sustained(double seconds, double lowHz, double brightness, double level)
    {
        var sound = new double[(int)(seconds * rate)];
        int[] steps = [0, 2, 3, 5, 7, 8, 10, 12];
        for (var at = 0.05; at < seconds - 0.6;)
        {
            var length = Math.Min(0.7 + (Next() * 1.9), seconds - at - 0.1);
            var hz = lowHz * Math.Pow(2, steps[(int)(Next() * steps.Length)] / 12.0);
            for (var partial = 1; partial <= 6; partial++)
            {
                Partial(sound, at, length, hz * partial, level * (0.5 + (0.5 * Next())) * Math.Pow(brightness, partial - 1), 0.09, 0.25);
            }

            at += length * (0.85 + (Next() * 0.3));
        }

        return sound;
    }

    /// <summary>Struck sounds that ring out: drums with low partials, bells with crooked ones.</summary>
    public double[] Struck(double seconds, double hz, double[] ratios, double ring, double level, double every)
    {
        var sound = new double[(int)(seconds * rate)];
        for (var at = 0.01; at < seconds - 0.1; at += every * (0.7 + (Next() * 0.6)))
        {
            foreach (var ratio in ratios)
            {
                Decay(sound, at, hz * ratio, ring / ratio, level / ratios.Length * (0.6 + (0.4 * Next())));
            }

            Noise(sound, at, 0.012, level * 0.25);
        }

        return sound;
    }

    /// <summary>Syllables: a buzz through two formants, with pauses between phrases.</summary>
    public double[] Voice(double seconds, double pitchHz, double level)
    {
        var sound = new double[(int)(seconds * rate)];
        for (var at = 0.2; at < seconds - 0.5;)
        {
            for (var syllables = 4 + (int)(Next() * 7); syllables > 0 && at < seconds - 0.5; syllables--)
            {
                var length = 0.09 + (Next() * 0.2);
                var first = 300 + (Next() * 500);
                var second = 900 + (Next() * 1300);
                var pitch = pitchHz * (0.9 + (Next() * 0.25));
                for (var partial = 1; partial * pitch < 3200; partial++)
                {
                    var hz = partial * pitch;
                    var shape = Formant(hz, first) + (0.6 * Formant(hz, second));
                    Partial(sound, at, length, hz, level * 0.35 * shape, 0.02, 0.05);
                }

                Noise(sound, at, 0.02, level * 0.06);
                at += length + 0.03 + (Next() * 0.05);
            }

            at += 0.5 + Next();
        }

        return sound;
    }

    public double[] Tone(double seconds, double hz, double level)
    {
        var sound = new double[(int)(seconds * rate)];
        Partial(sound, 0, seconds, hz, level, 0.01, 0.01);
        return sound;
    }

    /// <summary>The same sound further off: later, duller, with two reflections.</summary>
    public double[] Room(double[] sound, double delaySeconds, double level)
    {
        var result = new double[sound.Length];
        var low = 0.0;
        var near = (int)(delaySeconds * rate);
        var far = (int)(delaySeconds * 2.7 * rate);
        for (var i = 0; i < sound.Length; i++)
        {
            var direct = i >= near ? sound[i - near] : 0;
            var late = i >= far ? sound[i - far] * 0.45 : 0;
            low += (direct + late - low) * 0.22;
            result[i] = (low * level) + ((Next() - 0.5) * 2e-5);
        }

        return result;
    }

    /// <summary>With samples that do not swing around 0.</summary>
    public static double[] Offset(double[] sound, double by) => [.. sound.Select(s => s + by)];

    /// <summary>Silent before a part of its length and after another, and faded at both.</summary>
    public static double[] Within(double[] sound, double from, double to) =>
        [.. sound.Select((s, i) => s * Math.Clamp(((double)i / sound.Length - from) / 0.02, 0, 1) * Math.Clamp((to - ((double)i / sound.Length)) / 0.1, 0, 1))];

    /// <summary>With one sample that a machine got wrong.</summary>
    public static double[] Clicked(double[] sound, double seconds, int rate)
    {
        sound[(int)(seconds * rate)] += 0.3;
        return sound;
    }

    /// <summary>With ten milliseconds that a machine lost.</summary>
    public static double[] Dropped(double[] sound, double seconds, int rate)
    {
        sound.AsSpan((int)(seconds * rate), rate / 100).Clear();
        return sound;
    }

    public static double[] Mix(params double[][] sounds)
    {
        var result = new double[sounds.Max(s => s.Length)];
        foreach (var sound in sounds)
        {
            for (var i = 0; i < sound.Length; i++)
            {
                result[i] += sound[i];
            }
        }

        return result;
    }

    private static double Formant(double hz, double centre) => 1 / (1 + Math.Pow((hz - centre) / 140, 2));

    // A rotating phasor is much cheaper than a sine a sample.
    private void Partial(double[] sound, double at, double seconds, double hz, double level, double attack, double release)
    {
        if (hz > rate * 0.45)
        {
            return;
        }

        var start = (int)(at * rate);
        var count = Math.Min((int)(seconds * rate), sound.Length - start);
        var (cos, sin) = (Math.Cos(2 * Math.PI * hz / rate), Math.Sin(2 * Math.PI * hz / rate));
        var phase = Next() * 2 * Math.PI;
        var (x, y) = (Math.Cos(phase), Math.Sin(phase));
        var (up, down) = (Math.Max(1, attack * rate), Math.Max(1, release * rate));
        for (var i = 0; i < count; i++)
        {
            sound[start + i] += y * level * Math.Min(1, Math.Min(i / up, (count - i) / down));
            (x, y) = ((x * cos) - (y * sin), (x * sin) + (y * cos));
        }
    }

    private void Decay(double[] sound, double at, double hz, double ring, double level)
    {
        var start = (int)(at * rate);
        var (cos, sin) = (Math.Cos(2 * Math.PI * hz / rate), Math.Sin(2 * Math.PI * hz / rate));
        var (x, y) = (1.0, 0.0);
        var fall = Math.Exp(-1 / (ring * rate));
        for (var i = start; i < sound.Length && level > 1e-7; i++, level *= fall)
        {
            sound[i] += y * level;
            (x, y) = ((x * cos) - (y * sin), (x * sin) + (y * cos));
        }
    }

    private void Noise(double[] sound, double at, double seconds, double level)
    {
        var start = (int)(at * rate);
        var count = Math.Min((int)(seconds * rate), sound.Length - start);
        for (var i = 0; i < count; i++)
        {
            sound[start + i] += (Next() - 0.5) * 2 * level * (1 - ((double)i / count));
        }
    }
}
