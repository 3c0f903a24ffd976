namespace Lyrotrans.Workflow.Returning;

/// <summary>What is said first of a file that came back.</summary>
public enum CameBackKind
{
    /// <summary>It is like one track that was sent.</summary>
    Known = 0,

    /// <summary>It is summed of several that were sent.</summary>
    Mix = 1,

    /// <summary>Nothing that was sent was found in it.</summary>
    New = 2,

    /// <summary>There is no sound in it.</summary>
    Silent = 3,

    /// <summary>It could not be read, or is too long to be looked through.</summary>
    Unread = 4,
}
