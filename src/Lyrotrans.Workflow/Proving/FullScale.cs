using Lyrotrans.Core.Sound;

namespace Lyrotrans.Workflow.Proving;

/// <summary>Sound that was meant, as an integer file can hold it.</summary>
internal static class FullScale
{
    /// <summary>Holds samples at the full scale of an encoding; floats have none.</summary>
    /// <returns>How many were beyond it.</returns>
    public static long Hold(Span<double> samples, SampleEncoding encoding)
    {
        if (encoding.IsFloat())
        {
            return 0;
        }

        var most = 1 - Math.Pow(2, 1 - encoding.Bits());
        var overs = 0L;
        foreach (ref var sample in samples)
        {
            if (sample > most || sample < -1)
            {
                overs++;
                sample = Math.Clamp(sample, -1, most);
            }
        }

        return overs;
    }
}
