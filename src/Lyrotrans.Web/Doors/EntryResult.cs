namespace Lyrotrans.Web.Doors;

/// <summary>How a try to come in ended.</summary>
public enum EntryResult
{
    /// <summary>It was wrong.</summary>
    Wrong,

    /// <summary>It was right.</summary>
    In,

    /// <summary>The password was right; a code of the second factor is asked for.</summary>
    NeedsCode,

    /// <summary>Too many were wrong; nothing was tried.</summary>
    Wait,
}
