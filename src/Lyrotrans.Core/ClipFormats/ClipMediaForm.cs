namespace Lyrotrans.Core.ClipFormats;

/// <summary>Where the sound of kept clips lies.</summary>
public enum ClipMediaForm
{
    /// <summary>Inside the file of clips, each medium as a whole WAVE file.</summary>
    InsideWave,

    /// <summary>Inside, as plain samples; integer only.</summary>
    InsideSamples,

    /// <summary>Inside, each medium as a whole AIFF file; integer only.</summary>
    InsideAiff,

    /// <summary>Beside it as broadcast WAVE files.</summary>
    BesideWave,

    /// <summary>Beside it as AIFF files; integer only.</summary>
    BesideAiff,
}
