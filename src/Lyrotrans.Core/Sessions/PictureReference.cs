using Lyrotrans.Core.Time;

namespace Lyrotrans.Core.Sessions;

/// <summary>A reference picture file and the timecode of its first frame.</summary>
/// <param name="FileName">With the folders it came in.</param>
/// <param name="Start">In frames of the session.</param>
/// <param name="LengthFrames">In frames of the session; 0 where it is not known.</param>
/// <param name="Sha256">Of the file's bytes; null where only its name is known.</param>
public sealed record PictureReference(string FileName, Timecode Start, long LengthFrames = 0, string? Sha256 = null)
{
    /// <summary>Its name without folders, whichever way they are parted.</summary>
    public string ShortName => FileName[(FileName.LastIndexOfAny(['/', '\\']) + 1)..];

    /// <summary>Its own frames a second; null where it is not known.</summary>
    public Rational? FramesPerSecond { get; init; }

    /// <summary>Channels of sound in the file; 0 where there are none, or it is not known.</summary>
    public int SoundChannels { get; init; }

    /// <summary>Whether the file is there and could be read; else only its name is known.</summary>
    public bool IsThere => Sha256 is not null && FramesPerSecond is not null;

    /// <summary>The size of the file; 0 where it is not known.</summary>
    public long Bytes { get; init; }
}
