namespace Lyrotrans.Storage.Model;

/// <summary>What a room's log tells. Numbers are kept in the database and never change.</summary>
public enum RoomEventKind
{
    /// <summary>A member signed in.</summary>
    SignedIn = 0,

    /// <summary>A member signed out, or ended a sign-in from elsewhere.</summary>
    SignedOut = 1,

    /// <summary>A password or code was wrong.</summary>
    Refused = 2,

    /// <summary>Too many were wrong; nothing is tried for a while.</summary>
    Locked = 3,

    /// <summary>A package or proof was fetched.</summary>
    Fetched = 4,

    /// <summary>Something was deleted.</summary>
    Deleted = 5,

    /// <summary>A member's password or second factor was changed.</summary>
    Changed = 6,

    /// <summary>A package was offered by a link, or a link was taken back.</summary>
    Offered = 7,

    /// <summary>What a receiver sent back was taken.</summary>
    Returned = 8,
}
