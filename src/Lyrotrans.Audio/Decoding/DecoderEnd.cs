namespace Lyrotrans.Audio.Decoding;

/// <summary>When a decoder ended.</summary>
internal enum DecoderEnd
{
    /// <summary>Before it was asked: another file did it.</summary>
    Before,

    /// <summary>While it was asked: most likely at the file.</summary>
    Asked,

    /// <summary>It was ended, since no answer came in time.</summary>
    TooLong,
}
