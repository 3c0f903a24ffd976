using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Rates;

/// <summary>A sound file whose header seems to say a wrong rate: it would play fast or slow, and everything on it would drift.</summary>
/// <param name="Sound">The file.</param>
/// <param name="Likely">The rate that most speaks for.</param>
/// <param name="Reasons">What speaks for it, in words.</param>
public sealed record RateDoubt(SoundRate Sound, SampleRate Likely, ValueArray<string> Reasons)
{
    /// <summary>How much faster it plays than it was recorded if its header is believed and wrong, in percent; less than 0 is slower.</summary>
    public double FastPercent => ((Sound.Header.PerSecond / Likely.PerSecond).ToDouble() - 1) * 100;
}
