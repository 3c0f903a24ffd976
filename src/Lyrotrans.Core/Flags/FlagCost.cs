namespace Lyrotrans.Core.Flags;

/// <summary>What a flagged thing would cost if the session were sent as it is, the worst first.</summary>
public enum FlagCost
{
    /// <summary>Sound would be missing or wrong.</summary>
    SoundLost,

    /// <summary>Something would go that nobody meant to send.</summary>
    SentUnmeant,

    /// <summary>The other side would have to guess or repair.</summary>
    WorkThere,
}
