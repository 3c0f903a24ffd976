namespace Lyrotrans.Core.Time;

/// <summary>A span of samples.</summary>
/// <param name="Start">The first.</param>
/// <param name="End">One past the last.</param>
public readonly record struct SampleRange(long Start, long End)
{
    /// <summary>In samples; below 0 where it ends before it starts.</summary>
    public long Length => End - Start;
}
