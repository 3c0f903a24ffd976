namespace Lyrotrans.Core.Preparing;

/// <summary>What the files of a kind cover.</summary>
public enum FileRange
{
    /// <summary>What all files cover.</summary>
    AllFiles,

    /// <summary>From session start to where all files end.</summary>
    SessionStart,

    /// <summary>From bar 1 to where all files end.</summary>
    Bar1,

    /// <summary>From the first sound in them to the end of the last one's tail, within what all files cover.</summary>
    Sound,

    /// <summary>From a place of their own to one of their own.</summary>
    Chosen,
}
