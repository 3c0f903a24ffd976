namespace Lyrotrans.Core.Mapping;

/// <summary>What a thing keeps when the tempo map under it changes.</summary>
public enum Anchor
{
    /// <summary>Its samples: it sounds when it did, at another bar and beat.</summary>
    Samples,

    /// <summary>Its quarters: it stays at its bar and beat, and sounds at another time.</summary>
    Quarters,
}
