namespace Lyrotrans.Core.Preparing;

/// <summary>How a receiving room wants files laid out.</summary>
public enum FolderLayout
{
    /// <summary>In folders by what they are.</summary>
    ByKind,

    /// <summary>All in one.</summary>
    Flat,
}
