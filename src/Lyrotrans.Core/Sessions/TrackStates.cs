namespace Lyrotrans.Core.Sessions;

/// <summary>Words for the states of tracks.</summary>
public static class TrackStates
{
    /// <summary>What a state is called.</summary>
    public static string Words(this TrackState state) => state switch
    {
        TrackState.Active => "active",
        TrackState.Muted => "muted",
        TrackState.Hidden => "hidden",
        _ => "switched off",
    };
}
