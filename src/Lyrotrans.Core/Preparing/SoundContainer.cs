namespace Lyrotrans.Core.Preparing;

/// <summary>The file format of prints.</summary>
public enum SoundContainer
{
    /// <summary>Broadcast WAVE; RF64 from 4 GiB on.</summary>
    Wav,

    /// <summary>FLAC, lossless.</summary>
    Flac,

    /// <summary>AIFF.</summary>
    Aiff,
}
