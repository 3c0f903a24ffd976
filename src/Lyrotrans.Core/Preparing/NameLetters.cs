namespace Lyrotrans.Core.Preparing;

/// <summary>Which characters a room takes in names.</summary>
public enum NameLetters
{
    /// <summary>Letters of any script.</summary>
    Any,

    /// <summary>Letters A to Z without marks, digits, space and punctuation.</summary>
    Ascii,

    /// <summary>Letters A to Z without marks, digits, <c>-</c> and <c>_</c>.</summary>
    Plain,
}
