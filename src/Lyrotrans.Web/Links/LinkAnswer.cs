namespace Lyrotrans.Web.Links;

/// <summary>What a claim at a link came to.</summary>
public enum LinkAnswer
{
    /// <summary>It may be fetched.</summary>
    Given,

    /// <summary>As many as may have fetched it already.</summary>
    UsedUp,

    /// <summary>The link holds no more.</summary>
    Gone,
}
