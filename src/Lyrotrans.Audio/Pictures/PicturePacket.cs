namespace Lyrotrans.Audio.Pictures;

/// <summary>A frame of picture as it lies in a file.</summary>
/// <param name="Time">When it is seen, in ticks of its stream.</param>
/// <param name="IsKey">Whether it can be decoded by itself.</param>
/// <param name="IsSeen">Whether it is seen, and not only needed to decode others.</param>
/// <param name="Sha256">Of its bytes, in lower-case hex.</param>
public readonly record struct PicturePacket(long Time, bool IsKey, bool IsSeen, string Sha256);
