namespace Lyrotrans.Core.Sessions;

public enum TrackKind
{
    Audio,
    Notes,
    Bus,
    Return,
    Master,
    Picture,
}
