namespace Lyrotrans.Core.Preparing;

/// <summary>How many channels a print has.</summary>
public enum DeliveredChannels
{
    /// <summary>As many as the track.</summary>
    AsTrack,

    /// <summary>One; of more, the mean.</summary>
    Mono,

    /// <summary>Two; of one, the same in both.</summary>
    Stereo,

    /// <summary>Each channel in a file of its own.</summary>
    Separate,
}
