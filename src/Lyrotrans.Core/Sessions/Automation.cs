using Lyrotrans.Core.Collections;

namespace Lyrotrans.Core.Sessions;

/// <summary>A value over time: points ascending in samples, in dB (or −1 … 1 for pan). Before the first and after the last it holds.</summary>
public sealed record Automation(ValueArray<AutomationPoint> Points, Interpolation Interpolation = Interpolation.Linear)
{
    /// <summary>The value at a sample; 0 where there are no points.</summary>
    public double ValueAt(long sample)
    {
        var points = Points.AsSpan();
        if (points.Length == 0)
        {
            return 0;
        }

        if (sample <= points[0].Sample)
        {
            return points[0].Value;
        }

        var low = 0;
        var high = points.Length - 1;
        while (low < high)
        {
            var middle = (low + high + 1) / 2;
            if (points[middle].Sample <= sample)
            {
                low = middle;
            }
            else
            {
                high = middle - 1;
            }
        }

        if (low == points.Length - 1 || Interpolation == Interpolation.Step)
        {
            return points[low].Value;
        }

        var (from, to) = (points[low], points[low + 1]);
        return from.Value + ((to.Value - from.Value) * (sample - from.Sample) / (to.Sample - from.Sample));
    }
}
