namespace Lyrotrans.Audio.Decoding;

/// <summary>A decoder ended before it answered.</summary>
/// <param name="why">When.</param>
internal sealed class DecoderGoneException(DecoderEnd why) : Exception($"The decoder is gone: {why}.")
{
    public DecoderEnd Why { get; } = why;
}
