using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Audio.Containers;

/// <summary>A stream of sound inside a file that may hold picture and several of them.</summary>
/// <param name="Index">Among all streams of the file, from 0.</param>
/// <param name="Codec">As ffmpeg calls it.</param>
/// <param name="Encoding">Of its samples when they are decoded; exact for all but lossy sound.</param>
/// <param name="Channels">At least 1.</param>
/// <param name="Rate">Its samples a second.</param>
/// <param name="Frames">How long it says it is; null where it says nothing.</param>
/// <param name="Before">Frames that it begins after the file does, at least 0.</param>
public sealed record ContainerStream(int Index, string Codec, SampleEncoding Encoding, int Channels, SampleRate Rate, long? Frames, long Before)
{
    private static readonly string[] s_exact = ["flac", "alac", "wavpack", "tta", "mlp", "truehd"];

    /// <summary>Whether something of the sound was lost when it was coded.</summary>
    public bool IsLossy => !(Codec.StartsWith("pcm_", StringComparison.Ordinal) && Codec is not ("pcm_alaw" or "pcm_mulaw")) && !s_exact.Contains(Codec);
}
