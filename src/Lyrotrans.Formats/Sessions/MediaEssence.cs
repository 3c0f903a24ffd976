using Lyrotrans.Core.Sound;

namespace Lyrotrans.Formats.Sessions;

/// <summary>The bytes behind one medium of a session, and how the file speaks of them.</summary>
public sealed record MediaEssence
{
    /// <summary>The medium's identifier in the session.</summary>
    public required string MediaId { get; init; }

    /// <summary>The name of the file, its extension included.</summary>
    public required string FileName { get; init; }

    /// <summary>How the samples lie.</summary>
    public required PcmLayout Layout { get; init; }

    /// <summary>How the samples lie in their file: the bytes before them, as WAVE or AIFF have them.</summary>
    public required byte[] Head { get; init; }

    /// <summary>Whether it is AIFF, and WAVE otherwise.</summary>
    public bool IsAiff { get; init; }

    /// <summary>Relative to the file of clips, with <c>/</c>; null where the sound lies inside.</summary>
    public string? BesidePath { get; init; }

    /// <summary>It is named and is not there.</summary>
    public bool IsMissing { get; init; }

    /// <summary>Inside as plain samples, not as a whole file.</summary>
    public bool IsPlainSamples { get; init; }

    /// <summary>For sound that lies inside: how many bytes, and what writes them.</summary>
    public long Bytes { get; init; }

    /// <summary>Writes the whole sound file to a stream.</summary>
    public Action<Stream> Write { get; init; } = _ => { };

    /// <summary>What the sound is made from; the same sound has the same, so that its identifiers are the same in every build.</summary>
    public required string Identity { get; init; }
}
