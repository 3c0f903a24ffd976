namespace Lyrotrans.Web.Links;

/// <summary>What a claim at a link came to.</summary>
public enum LinkAnswer
{
    /// <summary>It may be fetched, and this is the first of it.</summary>
    Begun,

    /// <summary>It may be fetched by whoever began lately.</summary>
    GoesOn,

    /// <summary>As many as may have fetched it already.</summary>
    UsedUp,

    /// <summary>The link holds no more.</summary>
    Gone,
}
