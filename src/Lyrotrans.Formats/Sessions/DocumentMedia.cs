using Lyrotrans.Core.Time;

namespace Lyrotrans.Formats.Sessions;

/// <summary>A sound file that a composition refers to, as the composition knows it.</summary>
public sealed record DocumentMedia
{
    /// <summary>The identifier that the composition refers to it by.</summary>
    public required string Id { get; init; }

    /// <summary>What the clips over it call it, or the last part of its locator.</summary>
    public required string FileName { get; init; }

    /// <summary>The last part of its locator, which may be cryptic; null where there is none.</summary>
    public string? LocatorName { get; init; }

    /// <summary>Samples a second.</summary>
    public SampleRate Rate { get; init; }

    /// <summary>At least 1.</summary>
    public int Channels { get; init; } = 1;

    /// <summary>Of a sample; 0 where it is not said.</summary>
    public int Bits { get; init; }

    /// <summary>Whether a sample is a floating-point number.</summary>
    public bool IsFloat { get; init; }

    /// <summary>In its own samples.</summary>
    public long Length { get; init; }

    /// <summary>Samples since midnight, where its header says so.</summary>
    public long? TimeReference { get; init; }

    /// <summary><c>linked</c>, <c>embedded-pcm</c>, <c>embedded-wave</c> or <c>embedded-aifc</c>.</summary>
    public string How { get; init; } = "linked";

    /// <summary>How many of the file's first bytes were copied into its description, and their SHA-256.</summary>
    public (int Bytes, string Sha256)? Start { get; init; }

    /// <summary>The locator as it was written.</summary>
    public string? Url { get; init; }

    /// <summary>Whether its sound lies in the file itself.</summary>
    public bool IsEmbedded => How.StartsWith("embedded", StringComparison.Ordinal);
}
