namespace Lyrotrans.Audio.Placing;

/// <summary>How a sound differs for a time from what it is of.</summary>
public enum SoundDifferenceKind
{
    /// <summary>Both sound, and are not alike.</summary>
    Another = 0,

    /// <summary>It is silent, and what it is of is not.</summary>
    Silent = 1,

    /// <summary>It sounds, and what it is of is silent.</summary>
    Added = 2,
}
