using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Silences;

/// <summary>A stretch of a file that is kept.</summary>
/// <param name="Frames">Of the file.</param>
/// <param name="In">From its start, in frames.</param>
/// <param name="Out">Up to its end, in frames.</param>
public readonly record struct KeptSpan(SampleRange Frames, Fade In, Fade Out)
{
    /// <summary>The gain of a frame that lies in it.</summary>
    public double GainAt(long frame) => In.GainAt(frame - Frames.Start) * Out.GainAt(Frames.End - 1 - frame);
}
