namespace Lyrotrans.Core.Sound;

/// <summary>What was measured of a sound file, whole. Positions in its own samples; levels in dBFS, −∞ for silence.</summary>
/// <param name="PeakDb">Largest sample.</param>
/// <param name="TruePeakDb">Largest value between samples (ITU-R BS.1770, annex 2).</param>
/// <param name="Loudness">Integrated loudness in LUFS (EBU R 128); −∞ where nothing passes its gate; none where it cannot be measured: with more than two channels, of which nothing says which is which.</param>
/// <param name="LoudnessRange">In LU (EBU Tech 3342); none with the loudness.</param>
/// <param name="OffsetDb">Largest mean of a channel: a DC offset.</param>
/// <param name="Correlation">Of the first two channels, −1 to 1; none for mono or silence.</param>
/// <param name="SideDb">Largest difference between the first two channels; none for mono.</param>
/// <param name="ClippedRuns">Runs of three or more samples at full scale.</param>
/// <param name="FirstSound">First sample above −120 dBFS.</param>
/// <param name="EndOfSound">One past the last.</param>
public sealed record SoundLevels(
    double PeakDb, double TruePeakDb, double? Loudness, double? LoudnessRange, double OffsetDb, double? Correlation, double? SideDb, int ClippedRuns, long FirstSound, long EndOfSound)
{
    /// <summary>A DC offset above this is worth a word, in dBFS.</summary>
    public const double OffsetMattersDb = -60;

    /// <summary>Whether nothing in it is above −120 dBFS.</summary>
    public bool IsSilent => EndOfSound <= FirstSound;

    /// <summary>What is left between the true peak and full scale, in dB; less than 0 beyond it.</summary>
    public double HeadroomDb => -TruePeakDb;

    /// <inheritdoc cref="MediaSound.IsMonoInStereo"/>
    public bool IsMonoInStereo => new MediaSound(FirstSound, EndOfSound, Decibels.ToRatio(PeakDb), SideDb, ClippedRuns).IsMonoInStereo;

    /// <summary>What is out of line, in words.</summary>
    public IReadOnlyList<string> Marks => new[]
    {
        IsSilent ? "silent" : null,
        ClippedRuns > 0 ? "clips" : null,
        PeakDb > 0 ? "above full scale" : TruePeakDb > 0 ? "above full scale between samples" : null,
        OffsetDb > OffsetMattersDb ? "DC offset" : null,
        IsMonoInStereo ? "same in both channels" : Correlation < -0.3 ? "channels against each other" : null,
    }.OfType<string>().ToList();
}
