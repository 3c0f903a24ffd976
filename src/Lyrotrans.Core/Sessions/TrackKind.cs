namespace Lyrotrans.Core.Sessions;

/// <summary>What a track is.</summary>
public enum TrackKind
{
    Audio,
    Notes,
    Bus,
    Return,
    Master,
    Picture,

    /// <summary>Sound that was made elsewhere of one track, bus or return, through its effects and before its fader; it takes their place.</summary>
    Print,

    /// <summary>Sound that was made elsewhere of some tracks or a bus, as they go into the mix; it takes their place there.</summary>
    Stem,

    /// <summary>A mix that came along; it is the guide mix, and plays in nothing else.</summary>
    GuideMix,

    /// <summary>A click that came along; it plays in nothing and is held to the grid.</summary>
    Click,
}
