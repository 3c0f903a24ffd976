namespace Lyrotrans.Core.Preparing;

/// <summary>The kinds of files with sound that can be made each in a way of their own.</summary>
public enum FileKind
{
    /// <summary>Tracks of sound or notes, from zero.</summary>
    Tracks,

    /// <summary>Returns and buses, from zero.</summary>
    Returns,
    Stems,
    GuideMix,

    /// <summary>The mix through the master, as people listen to it.</summary>
    FinishedMix,
    Click,

    /// <summary>The media of clips; their depth and form are chosen with the clips.</summary>
    Clips,
}
