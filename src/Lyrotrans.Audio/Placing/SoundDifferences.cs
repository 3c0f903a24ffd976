using Lyrotrans.Core.Collections;

namespace Lyrotrans.Audio.Placing;

/// <summary>When a sound is not what it is of, half a second after the other; times shorter than a second are not told.</summary>
public static class SoundDifferences
{
    private const int Block = AnalysisSound.Hz / 2;
    private const int Least = 2;

    // Below the loud blocks: 40 dB, too little to know a sound by, and 60 dB, which is silence.
    private const double Soft = 1e-4;
    private const double Silence = 1e-6;

    // So much less alike than most of it.
    private const double Alike = 0.5;

    // An eighth of a millisecond: what filters move.
    private const int Beside = 1;

    /// <param name="parts">What it is of, each with its gain in it; all begin at one place.</param>
    /// <param name="sound">The sound, at the rate at which it lies there.</param>
    /// <param name="seconds">How long after that place its first sample lies.</param>
    /// <param name="drift">How much faster it runs, as a ratio.</param>
    /// <param name="stop">Heeded between blocks.</param>
    public static IReadOnlyList<SoundDifference> Between(IReadOnlyList<(SearchedSound Sound, double Gain)> parts, SearchedSound sound, double seconds, double drift, CancellationToken stop)
    {
        var (theirs, ours) = (sound.Analysed(stop).Samples, Array.Empty<float>());
        foreach (var (part, gain) in parts)
        {
            var one = part.Analysed(stop).Samples;
            ours = ours.Length >= one.Length ? ours : [.. ours, .. new float[one.Length - ours.Length]];
            for (var i = 0; i < one.Length; i++)
            {
                ours[i] += (float)(one[i] * gain);
            }
        }

        return Told(Blocks(ours, theirs, seconds * AnalysisSound.Hz, 1 + drift, stop));
    }

    private static IReadOnlyList<Looked> Blocks(float[] ours, float[] theirs, double start, double speed, CancellationToken stop) =>
        AtOnce.Select([.. Enumerable.Range(0, (theirs.Length + Block - 1) / Block)], block =>
        {
            var at = block * Block;
            var (own, other, cross) = (0.0, 0.0, new double[(2 * Beside) + 1]);
            for (var i = at; i < Math.Min(theirs.Length, at + Block); i++)
            {
                var place = start + (i * speed);
                var (whole, part) = ((long)Math.Floor(place), place - Math.Floor(place));
                double Between(long n) => (At(ours, n) * (1 - part)) + (At(ours, n + 1) * part);
                own += Between(whole) * Between(whole);
                other += (double)theirs[i] * theirs[i];
                for (var by = -Beside; by <= Beside; by++)
                {
                    cross[by + Beside] += theirs[i] * Between(whole + by);
                }
            }

            return new Looked(own, other, cross.Max(c => Math.Abs(c)) / Math.Sqrt(Math.Max(own * other, double.Epsilon)));
        }, stop);

    private static float At(float[] sound, long sample) => sample >= 0 && sample < sound.Length ? sound[sample] : 0;

    private static List<SoundDifference> Told(IReadOnlyList<Looked> blocks)
    {
        var (own, other) = (blocks.Select(b => b.Own).DefaultIfEmpty(0).Max(), blocks.Select(b => b.Other).DefaultIfEmpty(0).Max());
        var sounding = blocks.Where(b => b.Own > Soft * own && b.Other > Soft * other).Select(b => b.Likeness).Order().ToList();
        var typical = sounding.Count > 0 ? sounding[sounding.Count / 2] : 0;
        var kinds = blocks.Select(b => b.Own > Soft * own && b.Other > Soft * other ? b.Likeness < Alike * typical ? SoundDifferenceKind.Another : (SoundDifferenceKind?)null
            : b.Own > Soft * own && b.Other < Silence * other ? SoundDifferenceKind.Silent
            : b.Other > Soft * other && b.Own < Silence * own ? SoundDifferenceKind.Added : null).ToList();
        var told = new List<SoundDifference>();
        for (var i = 0; i < kinds.Count;)
        {
            var until = i + 1;
            while (until < kinds.Count && kinds[until] == kinds[i])
            {
                until++;
            }

            if (kinds[i] is { } kind && until - i >= Least)
            {
                told.Add(new SoundDifference((double)i * Block / AnalysisSound.Hz, (double)until * Block / AnalysisSound.Hz, kind));
            }

            i = until;
        }

        return told;
    }

    private readonly record struct Looked(double Own, double Other, double Likeness);
}
