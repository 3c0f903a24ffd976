namespace Lyrotrans.Core.Preparing;

public enum DeliveredChannels
{
    /// <summary>As many as the track has.</summary>
    AsTrack,

    /// <summary>One: the mean of the track's channels.</summary>
    Mono,

    /// <summary>Two: a mono track goes to both at the same level.</summary>
    Stereo,
}
