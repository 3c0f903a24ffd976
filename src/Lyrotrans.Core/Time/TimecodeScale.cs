namespace Lyrotrans.Core.Time;

/// <summary>
/// Ties a session's samples to timecode: sample 0 is the first sample of the start frame. A frame that begins between
/// two samples begins at the nearest one (ties to even), so each sample belongs to exactly one frame.
/// </summary>
public sealed class TimecodeScale(SampleRate rate, Timecode start)
{
    private readonly Rational _samplesPerFrame = rate.PerSecond / start.Rate.PerSecond;

    /// <summary>The timecode of sample 0.</summary>
    public Timecode Start { get; } = start;

    /// <summary>The session sample at which a frame begins.</summary>
    public long FirstSampleOf(Timecode frame) => ((frame.Frames - Start.Frames) * _samplesPerFrame).RoundToEven();

    /// <summary>The frame that a session sample lies in, and how far past its first sample.</summary>
    public TimecodePosition At(long sample)
    {
        var frame = (long)(sample / _samplesPerFrame).Floor();
        // A frame's rounded start may lie up to half a sample after its true one, or before it.
        frame += FirstSampleOf(Frame(frame + 1)) <= sample ? 1 : 0;
        frame -= FirstSampleOf(Frame(frame)) > sample ? 1 : 0;
        var code = Frame(frame);
        return new TimecodePosition(code, sample - FirstSampleOf(code));
    }

    /// <summary>The session sample of a place in timecode; below 0 before the session's start.</summary>
    public long SampleOf(TimecodePosition position) => FirstSampleOf(position.Frame) + position.SubSamples;

    /// <summary>Samples since midnight at <paramref name="at"/>, as a broadcast WAVE time reference counts them (EBU Tech 3285, 2.2).</summary>
    public long TimeReference(long sample, SampleRate at) =>
        ((Start.Frames / Start.Rate.PerSecond * at.PerSecond) + (sample * (at.PerSecond / rate.PerSecond))).RoundToEven();

    /// <summary>The session sample of a time reference that counts samples since midnight at the file's own rate.</summary>
    public long SampleOfTimeReference(long timeReference, SampleRate at) =>
        ((timeReference * (rate.PerSecond / at.PerSecond)) - (Start.Frames / Start.Rate.PerSecond * rate.PerSecond)).RoundToEven();

    private Timecode Frame(long framesFromStart) => Start with { Frames = Start.Frames + framesFromStart };
}
