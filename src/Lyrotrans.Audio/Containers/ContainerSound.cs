using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Containers;

/// <summary>The streams of one rate in a container, as one file: their channels side by side, in order.</summary>
/// <param name="Streams">At least one.</param>
public sealed record ContainerSound(IReadOnlyList<ContainerStream> Streams)
{
    /// <summary>Over all its streams.</summary>
    public int Channels => Streams.Sum(s => s.Channels);

    /// <summary>Of every stream.</summary>
    public SampleRate Rate => Streams[0].Rate;

    /// <summary>The narrowest that holds the samples of every stream exactly.</summary>
    public SampleEncoding Encoding => Streams.Select(s => s.Encoding).Aggregate(Wider);

    /// <summary>The longest stream, with what lies before it; null where none says its length.</summary>
    public long? Frames => Streams.Max(s => s.Frames + s.Before);

    /// <summary>Bytes of its samples when they are taken out, as far as the streams say how long they are.</summary>
    public long Bytes => (Frames ?? 0) * Channels * Encoding.Bytes();

    private static SampleEncoding Wider(SampleEncoding a, SampleEncoding b) => (a.IsFloat(), b.IsFloat()) switch
    {
        (true, false) when b == SampleEncoding.Integer32 => SampleEncoding.Float64,
        (false, true) when a == SampleEncoding.Integer32 => SampleEncoding.Float64,
        (true, false) => a,
        (false, true) => b,
        _ => a > b ? a : b,
    };
}
