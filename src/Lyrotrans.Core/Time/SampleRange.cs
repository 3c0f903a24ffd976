namespace Lyrotrans.Core.Time;

/// <summary>A span of samples.</summary>
/// <param name="Start">The first.</param>
/// <param name="End">One past the last.</param>
public readonly record struct SampleRange(long Start, long End)
{
    public long Length => End - Start;
}
