namespace Lyrotrans.Core.Sessions;

public enum TrackState
{
    Active,
    Muted,
    Hidden,

    /// <summary>Switched off in the source, so that it uses nothing and sounds nothing.</summary>
    Inactive,
}
