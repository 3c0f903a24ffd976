namespace Lyrotrans.Core.Carrying;

/// <summary>A kind of output of a package: a column of the carry plan.</summary>
public enum OutputKind
{
    /// <summary>The files of tracks, returns and buses that begin at the common start.</summary>
    Prints,
    GuideMix,
    Stems,
    FinishedMix,

    /// <summary>The tracks that are kept as clips, in a file of one format.</summary>
    Clips,
    Picture,
    Midi,

    /// <summary>Markers as delimited text.</summary>
    MarkerList,

    /// <summary>The session document and the tables beside it: for people, and for our own reader.</summary>
    Record,
}
