namespace Lyrotrans.Core.Clicking;

/// <summary>What tells the first click of a bar from the others.</summary>
public enum ClickAccents
{
    /// <summary>Nothing does.</summary>
    None,

    /// <summary>Its level.</summary>
    Level,

    /// <summary>Its pitch.</summary>
    Pitch,
}
