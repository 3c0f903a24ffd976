namespace Lyrotrans.Core.Preparing;

/// <summary>What becomes of a track.</summary>
public enum Treatment
{
    /// <summary>One from-zero file: clips, fades, crossfades and clip gain, nothing else.</summary>
    PrintDry,

    /// <summary>Its clips go as clips, in a file that other software opens.</summary>
    KeepClips,

    /// <summary>Its notes go in the MIDI file.</summary>
    Notes,

    /// <summary>It does not go.</summary>
    HoldBack,
}
