namespace Lyrotrans.Core.Sound;

/// <summary>How one sample is stored.</summary>
public enum SampleEncoding
{
    /// <summary>Unsigned, 128 is zero; only in 8-bit WAVE.</summary>
    Unsigned8,
    Signed8,
    Integer16,
    Integer24,
    Integer32,
    Float32,
    Float64,
}
