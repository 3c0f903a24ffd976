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

    /// <summary>One from-zero file through its effects, at unity: of a return what the sends into it become, without the sound that feeds it.</summary>
    PrintThrough,

    /// <summary>One from-zero file through effects, fader, pan and automation, as it goes into the mix.</summary>
    PrintMixed,

    /// <summary>One from-zero file through effects and fader with its automation, without pan: mono stays mono.</summary>
    PrintLevel,

    /// <summary>It goes in its stem and has no file of its own.</summary>
    StemOnly,

    /// <summary>Its notes go in the MIDI file, and one from-zero file has them with a stand-in sound.</summary>
    NotesAndPrint,
}
