using System.Numerics;
using System.Runtime.InteropServices;

namespace Lyrotrans.Audio.Mix;

/// <summary>Arithmetic on blocks of samples, as wide as the processor has it; every sample comes out as it would alone.</summary>
internal static class BlockMath
{
    /// <summary>into += from.</summary>
    public static void Add(ReadOnlySpan<double> from, Span<double> into)
    {
        var wide = Wide(from);
        var target = MemoryMarshal.Cast<double, Vector<double>>(into[..from.Length]);
        for (var i = 0; i < wide.Length; i++)
        {
            target[i] += wide[i];
        }

        for (var i = wide.Length * Vector<double>.Count; i < from.Length; i++)
        {
            into[i] += from[i];
        }
    }

    /// <summary>into += gain · from.</summary>
    public static void AddScaled(ReadOnlySpan<double> from, double gain, Span<double> into)
    {
        var wide = Wide(from);
        var target = MemoryMarshal.Cast<double, Vector<double>>(into[..from.Length]);
        for (var i = 0; i < wide.Length; i++)
        {
            target[i] += wide[i] * gain;
        }

        for (var i = wide.Length * Vector<double>.Count; i < from.Length; i++)
        {
            into[i] += from[i] * gain;
        }
    }

    /// <summary>into += from · gains, sample by sample.</summary>
    public static void AddProduct(ReadOnlySpan<double> from, ReadOnlySpan<double> gains, Span<double> into)
    {
        var wide = Wide(from);
        var factors = Wide(gains[..from.Length]);
        var target = MemoryMarshal.Cast<double, Vector<double>>(into[..from.Length]);
        for (var i = 0; i < wide.Length; i++)
        {
            target[i] += wide[i] * factors[i];
        }

        for (var i = wide.Length * Vector<double>.Count; i < from.Length; i++)
        {
            into[i] += from[i] * gains[i];
        }
    }

    /// <summary>into = from · gains, sample by sample.</summary>
    public static void Multiply(ReadOnlySpan<double> from, ReadOnlySpan<double> gains, Span<double> into)
    {
        var wide = Wide(from);
        var factors = Wide(gains[..from.Length]);
        var target = MemoryMarshal.Cast<double, Vector<double>>(into[..from.Length]);
        for (var i = 0; i < wide.Length; i++)
        {
            target[i] = wide[i] * factors[i];
        }

        for (var i = wide.Length * Vector<double>.Count; i < from.Length; i++)
        {
            into[i] = from[i] * gains[i];
        }
    }

    private static ReadOnlySpan<Vector<double>> Wide(ReadOnlySpan<double> samples) => MemoryMarshal.Cast<double, Vector<double>>(samples);
}
