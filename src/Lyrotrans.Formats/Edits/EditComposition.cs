using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Time;
using Lyrotrans.Formats.Sessions;

namespace Lyrotrans.Formats.Edits;

/// <summary>
/// What a chain format says of a session, with every place exact. Above the formats, below the session model, so
/// that a place which is no whole sample can be told before it is rounded.
/// </summary>
public sealed record EditComposition
{
    /// <summary>As the file calls it; empty where it has none.</summary>
    public required string Name { get; init; }

    /// <summary>Samples a second, of every position.</summary>
    public SampleRate Rate { get; init; } = SampleRate.Hz48000;

    /// <summary>Of the sound tracks; the finest place that the file can say.</summary>
    public Rational EditRate { get; init; } = 48_000;

    /// <summary>Frames a second.</summary>
    public Rational FrameRate { get; init; } = 25;

    /// <summary>Frame numbers a second of timecode.</summary>
    public int TimecodeBase { get; init; } = 25;

    /// <summary>Whether timecode drops frame numbers.</summary>
    public bool DropFrame { get; init; }

    /// <summary>Timecode of position 0, in frames.</summary>
    public long StartFrames { get; init; }

    /// <summary>In the file's order.</summary>
    public IReadOnlyList<EditTrack> Tracks { get; init; } = [];

    /// <summary>By the key that clips refer to.</summary>
    public IReadOnlyDictionary<string, DocumentMedia> Media { get; init; } = new Dictionary<string, DocumentMedia>();

    /// <summary>In the file's order.</summary>
    public IReadOnlyList<EditMarker> Markers { get; init; } = [];

    /// <summary>Name, start in samples, length in frames.</summary>
    public (string Name, Rational Start, long LengthFrames)? Picture { get; init; }

    /// <summary>Compositions of the file that were not taken.</summary>
    public IReadOnlyList<string> Others { get; init; } = [];

    /// <summary>What the file says of itself, by name.</summary>
    public IReadOnlyDictionary<string, string> Comments { get; init; } = new Dictionary<string, string>();

    /// <summary>What only this format has to say of the file, by name.</summary>
    public IReadOnlyDictionary<string, string> Facts { get; init; } = new Dictionary<string, string>();

    /// <summary>Whether it says how many channels its media have; where not, a clip takes all that are found.</summary>
    public bool KnowsChannels { get; init; } = true;

    /// <summary>What our own metadata keep of everything that the format has no place for; null where there are none.</summary>
    public Core.Sessions.Session? Own { get; init; }

    /// <summary>What was met and could not be used, by name and place.</summary>
    public IReadOnlyList<Finding> Findings { get; init; } = [];
}
