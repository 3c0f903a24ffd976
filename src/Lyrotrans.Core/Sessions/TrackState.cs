namespace Lyrotrans.Core.Sessions;

/// <summary>Whether a track sounds and is shown where it comes from.</summary>
public enum TrackState
{
    Active,
    Muted,
    Hidden,

    /// <summary>In the source, so that it uses nothing and sounds nothing.</summary>
    SwitchedOff,
}
