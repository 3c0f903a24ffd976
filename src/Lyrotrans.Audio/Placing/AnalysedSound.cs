namespace Lyrotrans.Audio.Placing;

/// <summary>A whole sound at the rate of the analysis.</summary>
/// <param name="Samples">One channel.</param>
/// <param name="Channel">Which channel of the sound stands for it; none for the mean.</param>
internal sealed record AnalysedSound(float[] Samples, int? Channel)
{
    /// <summary>A stretch; silence before its beginning and after its end.</summary>
    public float[] Read(long start, int count)
    {
        var result = new float[count];
        var (from, to) = (Math.Clamp(start, 0, Samples.Length), Math.Clamp(start + count, 0, Samples.Length));
        Samples.AsSpan((int)from, (int)(to - from)).CopyTo(result.AsSpan((int)Math.Clamp(from - start, 0, count)));
        return result;
    }
}
