using System.Numerics;
using Lyrotrans.Audio.Transforms;

namespace Lyrotrans.Audio.Placing;

/// <summary>
/// The exact place of a sound in a reference, near a place that is known to a fraction of a millisecond. First where the phases of stretches that are known to lie there agree best; then, with what is left of the reference
/// when the sound is taken out of it there, where the sound stands out of that best, between samples too: what is masked counts little.
/// </summary>
internal sealed class FinePlace
{
    /// <summary>Samples of each stretch that are looked at, at the rate of the reference.</summary>
    public const int Stretch = 1 << 15;

    private const int Size = 2 * Stretch;
    private const int Half = Size / 2;
    private const int Before = Stretch / 2;

    // Where an equaliser or the coarse place may have put it.
    private const int Reach = 32;
    private const double Floor = 3e-3;
    private const double LowestHz = 25;
    private const double NearEnough = 1e-3;

    // Bins on each side over which what is left is taken together.
    private const int Around = 16;

    // Half a sample, and so far to both sides of where phases agree best.
    private const double Step = 0.5;
    private const int Steps = 6;

    // The smaller part of a line that is cut so that both parts can be cut again alike.
    private const double Golden = 0.381966;
    private const int Rounds = 4;

    // The part of a stretch over which it is faded where it is cut: both are cut at the same place, and hard cuts would lie on each other there whatever the sound does.
    private const int Ease = 8;

    private readonly int _lowest;
    private readonly Complex[] _phases = new Complex[Half + 1];
    private readonly List<(Complex[] Sound, Complex[] Reference)> _spectra = [];
    private double _energy;
    private double _total;

    private FinePlace(double perSecond) => _lowest = (int)Math.Ceiling(LowestHz * Size / perSecond);

    /// <summary>Shift from the place in samples of the reference, correlation, and gain as a ratio, below 0 where the polarity is the other one.</summary>
    public readonly record struct Result(double Shift, double Correlation, double Gain);

    private readonly record struct Fit(double Shift, double Gain, double[] Left, double Rest);

    /// <param name="sound">At the rate of the reference.</param>
    /// <param name="reference">What it lies in.</param>
    /// <param name="place">The reference's sample that the sound's first lies on, nearly.</param>
    /// <param name="stretches">Where in the sound, in samples of the reference's rate.</param>
    public static Result Of(MonoSound sound, MonoSound reference, long place, IReadOnlyList<long> stretches)
    {
        return Of([.. stretches.Select(at => Piece.Read(sound, reference, place, at))]);
    }

    /// <summary>The same of stretches that were read, so that many can be worked on at once.</summary>
    public static Result Of(IReadOnlyList<Piece> pieces)
    {
        var fine = new FinePlace(pieces[0].PerSecond);
        foreach (var piece in pieces)
        {
            fine.Take(piece);
        }

        return fine._energy > 0 && fine._total > 0 ? fine.Found() : default;
    }

    /// <summary>A stretch of a sound and what lies about it in the reference; whether the sound has more before and after it.</summary>
    public readonly record struct Piece(float[] Sound, float[] Around, bool Begins, bool Ends, double PerSecond)
    {
        /// <inheritdoc cref="FinePlace.Of(MonoSound, MonoSound, long, IReadOnlyList{long})"/>
        public static Piece Read(MonoSound sound, MonoSound reference, long place, long at)
        {
            var count = (int)Math.Min(Stretch, sound.Length - at);
            return new Piece(sound.Read(at, count), reference.Read(place + at - Before, Size), at > 0, at + count < sound.Length, reference.PerSecond);
        }

        /// <summary>The stretch, faded where it is cut out of its sound.</summary>
        public float[] Eased() => Cut(Sound, 0, Sound.Length, Begins ? Sound.Length / Ease : 0, Ends ? Sound.Length / Ease : 0);

        // Where the sound itself begins or ends, a little more of the reference is looked at.
        internal float[] AroundEased() => Cut(Around, Before - (Begins ? 0 : 2 * Reach), Before + Sound.Length + (Ends ? 0 : 2 * Reach), Begins ? Sound.Length / Ease : Reach, Ends ? Sound.Length / Ease : Reach);

        internal float[] Faded() => Cut(Sound, 0, Sound.Length, Begins ? Sound.Length / 2 : 0, Ends ? Sound.Length / 2 : 0);
    }

    private void Take(Piece piece)
    {
        var (eased, cut) = (piece.Eased(), piece.AroundEased());
        var (whole, faded) = Spectra(eased, piece.Faded());
        var (through, within) = Spectra(piece.Around, cut);
        var energy = Energy(eased);
        for (var i = _lowest; i <= Half; i++)
        {
            var (product, power) = (Complex.Conjugate(faded[i]) * through[i], Power(faded[i]));
            _phases[i] += product == 0 ? 0 : product / product.Magnitude * (power / (power + (Floor * energy)));
        }

        _spectra.Add((whole, within));
        _energy += energy;
        _total += Energy(cut);
    }

    private Result Found()
    {
        var cross = Cross(_ => 1);
        var best = Settled(cross, Highest(_phases));

        // Steady tones with little beside them say where they lie by how they sound; their phases are few.
        var plain = Highest(cross);
        best = Math.Abs(plain - best.Shift) > Step && Settled(cross, plain) is var other && other.Rest < best.Rest ? other : best;
        return new Result(best.Shift - Before, Math.Min(1, Math.Abs(Sum(cross, best.Shift)) / (Half * Math.Sqrt(_energy * _total))), best.Gain);
    }

    /// <summary>Where the sound stands out best of what is left without it. What is left is known only as well as the place is, so each is found anew from the other, as long as less is left.</summary>
    private Fit Settled(Complex[] cross, double start)
    {
        var fit = Fitted(start, Sum(cross, start) / (_energy * Half));
        for (var round = 0; round < Rounds; round++)
        {
            var left = fit.Left;
            var weighted = Cross(i => 1 / left[i]);
            var from = round == 0 ? Enumerable.Range(-Steps, (2 * Steps) + 1).Select(s => start + (s * Step)).MaxBy(t => Math.Abs(Sum(weighted, t))) : fit.Shift;
            var shift = Top(weighted, from - Step, from + Step);
            var next = Fitted(shift, Sum(weighted, shift) / Own(left));
            if (next.Rest >= fit.Rest)
            {
                break;
            }

            fit = next;
        }

        return fit;
    }

    private Fit Fitted(double shift, double gain)
    {
        var left = Left(shift, gain);
        return new Fit(shift, gain, left, left.Skip(_lowest).Sum(Math.Log));
    }

    private double Own(double[] left)
    {
        var own = 0.0;
        foreach (var (sound, _) in _spectra)
        {
            for (var i = _lowest; i <= Half; i++)
            {
                own += Power(sound[i]) / left[i];
            }
        }

        return own;
    }

    private Complex[] Cross(Func<int, double> weight)
    {
        var result = new Complex[Half + 1];
        foreach (var (sound, reference) in _spectra)
        {
            for (var i = _lowest; i <= Half; i++)
            {
                result[i] += Complex.Conjugate(sound[i]) * reference[i] * weight(i);
            }
        }

        return result;
    }

    /// <summary>What is left at each frequency of the reference without the sound, smoothed.</summary>
    private double[] Left(double shift, double gain)
    {
        var sums = new double[Half + 2];
        for (var i = 0; i <= Half; i++)
        {
            var turned = gain * Complex.FromPolarCoordinates(1, -2 * Math.PI * i * shift / Size);
            sums[i + 1] = sums[i];
            foreach (var (sound, reference) in _spectra)
            {
                sums[i + 1] += Power(reference[i] - (turned * sound[i]));
            }
        }

        var floor = (sums[^1] / Half * 1e-9) + 1e-30;
        var result = new double[Half + 1];
        for (var i = 0; i <= Half; i++)
        {
            var (from, to) = (Math.Max(0, i - Around), Math.Min(Half, i + Around) + 1);
            result[i] = ((sums[to] - sums[from]) / (to - from)) + floor;
        }

        return result;
    }

    private static double Power(Complex value) => (value.Real * value.Real) + (value.Imaginary * value.Imaginary);

    private static double Energy(float[] samples)
    {
        var sum = 0.0;
        foreach (var sample in samples)
        {
            sum += (double)sample * sample;
        }

        return sum;
    }

    /// <summary>Samples between two, faded in and out over so many, so that the cut sounds of nothing; all others are silence.</summary>
    private static float[] Cut(float[] samples, int from, int to, int fadeIn, int fadeOut)
    {
        var cut = new float[samples.Length];
        samples.AsSpan(from, to - from).CopyTo(cut.AsSpan(from));
        for (var i = 0; i < Math.Max(fadeIn, fadeOut); i++)
        {
            cut[from + i] *= i < fadeIn ? Gain(i, fadeIn) : 1;
            cut[to - 1 - i] *= i < fadeOut ? Gain(i, fadeOut) : 1;
        }

        return cut;
    }

    private static float Gain(int i, int count) => (float)(0.5 - (0.5 * Math.Cos(Math.PI * (i + 0.5) / count)));

    // Two at once: what is even in the spectrum is of the first, what is odd of the second.
    private static (Complex[] First, Complex[] Second) Spectra(float[] first, float[] second)
    {
        var values = new Complex[Size];
        for (var i = 0; i < first.Length; i++)
        {
            values[i] = new Complex(first[i], second[i]);
        }

        Fourier.Forward(values);
        var (even, odd) = (new Complex[Half + 1], new Complex[Half + 1]);
        for (var i = 0; i <= Half; i++)
        {
            var (a, b) = (values[i], Complex.Conjugate(values[(Size - i) % Size]));
            (even[i], odd[i]) = ((a + b) / 2, (a - b) / new Complex(0, 2));
        }

        return (even, odd);
    }

    /// <summary>The highest point of what a spectrum is in time, within reach.</summary>
    private static double Highest(Complex[] spectrum)
    {
        var inTime = new Complex[Size];
        spectrum.CopyTo(inTime, 0);
        Fourier.Inverse(inTime);
        var best = Enumerable.Range(Before - Reach, (2 * Reach) + 1).MaxBy(i => Math.Abs(inTime[i].Real));
        return Top(spectrum, best - 1.0, best + 1.0);
    }

    private static double Top(Complex[] spectrum, double low, double high)
    {
        var (a, b) = (low + ((high - low) * Golden), high - ((high - low) * Golden));
        var (left, right) = (Math.Abs(Sum(spectrum, a)), Math.Abs(Sum(spectrum, b)));
        while (high - low > NearEnough)
        {
            if (left > right)
            {
                (high, b, right) = (b, a, left);
                a = low + ((high - low) * Golden);
                left = Math.Abs(Sum(spectrum, a));
            }
            else
            {
                (low, a, left) = (a, b, right);
                b = high - ((high - low) * Golden);
                right = Math.Abs(Sum(spectrum, b));
            }
        }

        return (low + high) / 2;
    }

    // What a spectrum is at a time between samples; each step turns by as much more. Four turns side by side, so that none waits for the one before it.
    private static double Sum(Complex[] spectrum, double time)
    {
        const int Lanes = 4;
        var angle = 2 * Math.PI * time / Size;
        var (turn, at) = (Complex.FromPolarCoordinates(1, Lanes * angle), Enumerable.Range(0, Lanes).Select(l => Complex.FromPolarCoordinates(1, l * angle)).ToArray());
        var (a, b, c, d) = (at[0], at[1], at[2], at[3]);
        var (sum, i) = (0.0, 0);
        for (; i + Lanes <= spectrum.Length; i += Lanes)
        {
            sum += Real(spectrum[i], a) + Real(spectrum[i + 1], b) + Real(spectrum[i + 2], c) + Real(spectrum[i + 3], d);
            (a, b, c, d) = (a * turn, b * turn, c * turn, d * turn);
        }

        for (var rest = a; i < spectrum.Length; i++)
        {
            sum += Real(spectrum[i], rest);
            rest *= at[1];
        }

        return sum;
    }

    private static double Real(Complex a, Complex b) => (a.Real * b.Real) - (a.Imaginary * b.Imaginary);
}
