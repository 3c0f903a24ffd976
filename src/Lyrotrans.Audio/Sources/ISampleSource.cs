using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Sources;

/// <summary>Sound that can be read from any place. Samples are doubles, full scale is ±1; integers up to 53 bits come through exactly.</summary>
public interface ISampleSource : IDisposable
{
    /// <summary>How many channels it has, at least 1.</summary>
    int Channels { get; }

    /// <summary>In sample frames at <see cref="Rate"/>.</summary>
    long Length { get; }

    /// <summary>Its samples a second.</summary>
    SampleRate Rate { get; }

    /// <summary>
    /// Fills <paramref name="count"/> samples of each channel, <c>into[channel][0 …]</c>, from frame <paramref name="start"/>
    /// on. What lies before 0 or after the end is silence.
    /// </summary>
    void Read(long start, int count, double[][] into);
}
