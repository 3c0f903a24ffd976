namespace Lyrotrans.Audio.Pcm;

/// <summary>The noise that is added before rounding.</summary>
public enum DitherNoise
{
    None,

    /// <summary>Triangular, ±1 step, white (TPDF).</summary>
    Flat,

    /// <summary>The same, and the error of each sample is taken from the next three, so that it lies higher in frequency.</summary>
    Shaped,
}
