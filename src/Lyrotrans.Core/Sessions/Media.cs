using Lyrotrans.Core.Collections;
using Lyrotrans.Core.Sound;
using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A sound file that clips take their sound from. Length and offsets are in its own samples.</summary>
public sealed record Media
{
    /// <summary>Unique in the session; clips refer to it.</summary>
    public required string Id { get; init; }

    /// <summary>Without its folder, as the session says it.</summary>
    public required string FileName { get; init; }

    /// <summary>Its name without folders, for people.</summary>
    public string ShortName => FileName[(FileName.LastIndexOf('/') + 1)..];

    /// <summary>Of the file itself, which need not be the session's.</summary>
    public SampleRate Rate { get; init; }

    /// <summary>Whether a person said the rate, whatever the file's header says.</summary>
    public bool RateDeclared { get; init; }

    /// <summary>How the file's samples are stored.</summary>
    public SampleEncoding Encoding { get; init; }

    /// <summary>At least 1.</summary>
    public int Channels { get; init; } = 1;

    /// <summary>In sample frames at the file's own rate.</summary>
    public long Length { get; init; }

    /// <summary>Samples since midnight at the file's own rate, where the file is stamped.</summary>
    public long? TimeReference { get; init; }

    /// <summary>Where it was found, if it was.</summary>
    public MediaPlace Place { get; init; }

    /// <summary>Whether its sound is not there, for whatever reason.</summary>
    public bool IsAbsent => Place is MediaPlace.Missing or MediaPlace.Unsent;

    /// <summary>The package that it lies in under its file name, by the SHA-256 of that package's manifest in lower-case hex; null where it came in none.</summary>
    public string? Delivery { get; init; }

    /// <summary>Lower-case hex of the whole file, where it is known.</summary>
    public string? Sha256 { get; init; }

    /// <summary>Identifiers that other formats gave it (UMID, mob id), as they wrote them.</summary>
    public ValueArray<string> Identifiers { get; init; }
}
