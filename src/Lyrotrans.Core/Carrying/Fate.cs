namespace Lyrotrans.Core.Carrying;

/// <summary>What becomes of a thing.</summary>
public enum Fate
{
    /// <summary>Not this file's to bring.</summary>
    None,
    Carried,
    Converted,
    Printed,
    HeldBack,
}
