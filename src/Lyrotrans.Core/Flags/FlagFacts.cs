using Lyrotrans.Core.Delivering;
using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Core.Sound;

namespace Lyrotrans.Core.Flags;

/// <summary>What flags are found from.</summary>
/// <param name="Session">What would be sent.</param>
/// <param name="Preparation">How it would be sent to one receiver.</param>
public sealed record FlagFacts(Session Session, Preparation Preparation)
{
    /// <summary>Measured sound by media id.</summary>
    public IReadOnlyDictionary<string, MediaSound> Sounds { get; init; } = new Dictionary<string, MediaSound>();

    /// <summary>What the sound's own tempo seems to be, where the map says one tempo only.</summary>
    public TempoEstimate? Tempo { get; init; }

    /// <summary>Sound files whose header seems to say a wrong rate.</summary>
    public IReadOnlyList<RateDoubt> Rates { get; init; } = [];

    /// <summary>Whether anybody said a tempo.</summary>
    public bool SaysTempo { get; init; } = true;

    /// <summary>The files that would be built.</summary>
    public IReadOnlyList<PlannedFile> Files { get; init; } = [];

    /// <summary>Measured levels by media id.</summary>
    public IReadOnlyDictionary<string, SoundLevels> Levels { get; init; } = new Dictionary<string, SoundLevels>();

    /// <summary>What is wrong with media, by media id.</summary>
    public IReadOnlyDictionary<string, SoundFaults> Faults { get; init; } = new Dictionary<string, SoundFaults>();

    /// <summary>How clips begin and end, by clip id.</summary>
    public IReadOnlyDictionary<string, ClipEdges> Edges { get; init; } = new Dictionary<string, ClipEdges>();

    /// <summary>Ids of media whose sound was coded with loss.</summary>
    public IReadOnlySet<string> Lossy { get; init; } = new HashSet<string>();
}
