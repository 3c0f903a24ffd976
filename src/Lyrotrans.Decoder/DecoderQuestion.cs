namespace Lyrotrans.Decoder;

/// <summary>What is asked of a decoder: a byte of this, then its own fields, little-endian. An answer begins with 1, or with 0 and words where it cannot be done.</summary>
internal enum DecoderQuestion : byte
{
    /// <summary>A path. Answers its number, sample frames (long), rate in Hz, channels, and libsndfile's format.</summary>
    Open = 1,

    /// <summary>Its number, a first sample frame (long), a count of frames. Answers how many frames lie in the shared memory, interleaved as float, which holds every depth of these formats exactly.</summary>
    Read = 2,

    /// <summary>Its number. Answers nothing but the 1.</summary>
    Close = 3,
}
