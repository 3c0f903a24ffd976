namespace Lyrotrans.Core.Preparing;

/// <summary>What the reference picture is coded as. Its sound is left out of all.</summary>
public enum PictureForm
{
    /// <summary>As it came: its frames are copied, and only coded anew where it is cut inside a group of pictures.</summary>
    AsItIs,

    /// <summary>H.264 (ISO/IEC 14496-10) in MP4.</summary>
    H264,

    /// <summary>VC-3 (SMPTE ST 2019-1) in MOV: every frame by itself.</summary>
    Vc3,

    /// <summary>SMPTE RDD 36 in MOV: every frame by itself.</summary>
    Rdd36,
}
