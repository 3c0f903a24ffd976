namespace Lyrotrans.Core.Arriving;

/// <summary>By what a clip of the other side was known again, the surest first.</summary>
public enum ArrivalBasis
{
    /// <summary>By its sound.</summary>
    Sound,

    /// <summary>By where it begins in its medium and how long it is, among the other clips of that medium.</summary>
    Source,

    /// <summary>By identifiers or names of its medium.</summary>
    Identifier,

    /// <summary>By its place alone; that may be wrong.</summary>
    Unsure,
}
