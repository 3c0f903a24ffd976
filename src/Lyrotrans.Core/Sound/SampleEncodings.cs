namespace Lyrotrans.Core.Sound;

/// <summary>Facts about sample encodings.</summary>
public static class SampleEncodings
{
    /// <summary>Of one sample.</summary>
    public static int Bytes(this SampleEncoding encoding) => encoding.Bits() / 8;

    /// <summary>Of one sample.</summary>
    public static int Bits(this SampleEncoding encoding) => encoding switch
    {
        SampleEncoding.Unsigned8 or SampleEncoding.Signed8 => 8,
        SampleEncoding.Integer16 => 16,
        SampleEncoding.Integer24 => 24,
        SampleEncoding.Integer32 or SampleEncoding.Float32 => 32,
        _ => 64,
    };

    /// <summary>Whether a sample is a floating-point number.</summary>
    public static bool IsFloat(this SampleEncoding encoding) => encoding is SampleEncoding.Float32 or SampleEncoding.Float64;

    /// <summary>Bits of an integer sample that carry sound; for float those of the mantissa.</summary>
    public static int Precision(this SampleEncoding encoding) => encoding switch
    {
        SampleEncoding.Float32 => 25,
        SampleEncoding.Float64 => 53,
        _ => encoding.Bits(),
    };

    /// <summary>What every byte of a sample without sound is: 128 where samples have no sign, else 0.</summary>
    public static byte SilentByte(this SampleEncoding encoding) => (byte)(encoding == SampleEncoding.Unsigned8 ? 128 : 0);

    /// <summary>In words: <c>24 bit</c>, <c>32 bit float</c>.</summary>
    public static string Words(this SampleEncoding encoding) => encoding.IsFloat() ? $"{encoding.Bits()} bit float" : $"{encoding.Bits()} bit";

    /// <summary>The encoding of so many bits, or none where no file has it.</summary>
    public static SampleEncoding? FromBits(int bits, bool isFloat) => (bits, isFloat) switch
    {
        (8, false) => SampleEncoding.Unsigned8,
        (16, false) => SampleEncoding.Integer16,
        (24, false) => SampleEncoding.Integer24,
        (32, false) => SampleEncoding.Integer32,
        (32, true) => SampleEncoding.Float32,
        (64, true) => SampleEncoding.Float64,
        _ => null,
    };
}
