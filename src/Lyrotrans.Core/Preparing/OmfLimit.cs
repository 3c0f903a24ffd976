namespace Lyrotrans.Core.Preparing;

/// <summary>How large an OMF file may become.</summary>
public enum OmfLimit
{
    /// <summary>What many readers take: offsets with a sign.</summary>
    TwoGiB,

    /// <summary>What the format can say.</summary>
    FourGiB,
}
