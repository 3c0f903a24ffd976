namespace Lyrotrans.Audio.Files;

/// <summary>A format that libsndfile codes.</summary>
public enum CodedForm
{
    /// <summary>Lossless.</summary>
    Flac,

    /// <summary>Vorbis in Ogg, for listening.</summary>
    Ogg,

    /// <summary>MPEG layer III, for listening.</summary>
    Mp3,
}
