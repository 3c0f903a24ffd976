using System.Numerics;
using MathNet.Numerics;
using MathNet.Numerics.IntegralTransforms;

namespace Lyrotrans.Audio.Transforms;

/// <summary>The discrete Fourier transform, in place and without scaling, on one thread and the same on every machine: the caller works on many things at once.</summary>
internal static class Fourier
{
    static Fourier()
    {
        Control.UseManaged();
        Control.MaxDegreeOfParallelism = 1;
    }

    /// <summary>From time to frequency.</summary>
    public static void Forward(Complex32[] values) => MathNet.Numerics.IntegralTransforms.Fourier.Forward(values, FourierOptions.NoScaling);

    /// <summary>From frequency to time; every value is as many times too large as there are values.</summary>
    public static void Inverse(Complex32[] values) => MathNet.Numerics.IntegralTransforms.Fourier.Inverse(values, FourierOptions.NoScaling);

    /// <inheritdoc cref="Forward(Complex32[])"/>
    public static void Forward(Complex[] values) => MathNet.Numerics.IntegralTransforms.Fourier.Forward(values, FourierOptions.NoScaling);

    /// <inheritdoc cref="Inverse(Complex32[])"/>
    public static void Inverse(Complex[] values) => MathNet.Numerics.IntegralTransforms.Fourier.Inverse(values, FourierOptions.NoScaling);
}
