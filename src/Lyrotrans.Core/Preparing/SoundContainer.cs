namespace Lyrotrans.Core.Preparing;

public enum SoundContainer
{
    /// <summary>Broadcast WAVE; RF64 where it grows beyond 4 GiB.</summary>
    Wav,

    /// <summary>FLAC, integer only.</summary>
    Flac,
}
