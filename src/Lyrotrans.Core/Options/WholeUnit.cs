namespace Lyrotrans.Core.Options;

/// <summary>What a whole number counts, and so how it is typed.</summary>
public enum WholeUnit
{
    /// <summary>Typed as it stands.</summary>
    Count,

    /// <summary>Session samples that pass; typed in seconds.</summary>
    Duration,

    /// <summary>A session sample; typed as timecode or as a sample.</summary>
    Place,
}
