namespace Lyrotrans.Core.ClipFormats;

/// <summary>Whether a format has a place for something.</summary>
public enum Held
{
    /// <summary>It has none; what is of this kind goes in other files.</summary>
    No,

    /// <summary>In metadata of our own, from which only our own reader takes it again.</summary>
    InMetadata,

    /// <summary>Every reader of the format finds it.</summary>
    Yes,
}
