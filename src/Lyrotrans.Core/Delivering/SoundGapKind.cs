namespace Lyrotrans.Core.Delivering;

/// <summary>Why something goes without the sound that it should have.</summary>
public enum SoundGapKind
{
    /// <summary>A medium is not there: its clips are silent.</summary>
    Missing,

    /// <summary>A medium's own header says another thing than the session does: it sounds for another time, or at another pitch.</summary>
    Contradicted,

    /// <summary>An effect cannot sound here: its track is printed without it.</summary>
    Effect,

    /// <summary>An instrument cannot sound here: a stand-in plays its notes.</summary>
    Instrument,
}
