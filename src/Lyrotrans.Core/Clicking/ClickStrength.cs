namespace Lyrotrans.Core.Clicking;

/// <summary>How strong a click is: the two accents have the one sound, the plain beat and its parts the other.</summary>
public enum ClickStrength
{
    /// <summary>A part of a beat, 12 dB below the bar's first beat.</summary>
    Part,

    /// <summary>A plain beat, 6 dB below the bar's first.</summary>
    Beat,

    /// <summary>The first beat of a group, 3 dB below the bar's first.</summary>
    Group,

    /// <summary>The first beat of a bar, at the chosen level.</summary>
    Bar,
}
