using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Containers;

/// <summary>What a file that may hold picture and sound says of itself.</summary>
/// <param name="Streams">Its streams of sound, in the order in which channels are counted over them.</param>
/// <param name="Picture">Its first stream of picture; a still that is a cover is none. Null where there is none.</param>
/// <param name="Umid">The identifier of the file package, as lower-case hex of 32 bytes; null where it has none.</param>
/// <param name="StartSeconds">Seconds since midnight at which it begins; null where it has no timecode, or one whose frame rate is not known.</param>
public sealed record ContainerFacts(IReadOnlyList<ContainerStream> Streams, PictureStream? Picture, string? Umid, Rational? StartSeconds)
{
    /// <summary>Streams that can be one file: those of one rate, the rate of the first stream first.</summary>
    public IReadOnlyList<ContainerSound> Sounds => [.. Streams.GroupBy(s => s.Rate).Select(g => new ContainerSound([.. g]))];
}
