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
}
