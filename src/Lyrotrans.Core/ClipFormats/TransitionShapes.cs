namespace Lyrotrans.Core.ClipFormats;

/// <summary>What a format's transitions say of the shape of a fade.</summary>
public enum TransitionShapes
{
    /// <summary>Each side by the name of its shape, and shapes without a name by points.</summary>
    ByNameOrPoints,

    /// <summary>One level for both sides: by points from and to silence, and straight where two clips cross.</summary>
    OneLevel,

    /// <summary>Only their length; the shape goes in metadata of our own.</summary>
    LengthOnly,
}
