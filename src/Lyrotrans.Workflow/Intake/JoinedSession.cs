using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Rates;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>The one session that all sources make, where each came to lie and why, what is missing, and what they disagree on.</summary>
/// <param name="Maps">Every source that says a map, in the order in which they would lead.</param>
/// <param name="MapLeader">The item whose map leads; null where none says any.</param>
/// <param name="Compositions">The compositions of the document that leads, the taken one first.</param>
/// <param name="RateDoubts">Sound files whose header seems to say a wrong rate, and on which nobody has decided.</param>
/// <param name="SaysTempo">Whether a source or the engineer said a tempo; else bars are counted at 120 in 4/4 because nobody said otherwise.</param>
/// <param name="MarkerSources">Every item that brings markers, by id and name.</param>
public sealed record JoinedSession(
    Session Session,
    IReadOnlyDictionary<string, PlacedItem> Placed,
    IReadOnlyList<MissingMedia> Missing,
    IReadOnlyList<Finding> Findings,
    IReadOnlyList<MapSource> Maps,
    string? MapLeader,
    IReadOnlyList<(string Item, string Name)> MarkerSources,
    IReadOnlyList<string> Compositions,
    IReadOnlyList<RateDoubt> RateDoubts,
    bool SaysTempo)
{
    /// <summary>The document that makes the session, beside which others may lie; null where none does.</summary>
    public string? Leader { get; init; }

    /// <summary>By their ids, tracks that came in a package of this program, and the SHA-256 of its manifest.</summary>
    public IReadOnlyDictionary<string, string> Came { get; init; } = new Dictionary<string, string>();

    /// <summary>Files of a package whose session document says the same.</summary>
    public IReadOnlySet<string> Told { get; init; } = new HashSet<string>();

    /// <summary>Descriptions that were left out and say other tracks than the session has: they may lie beside it.</summary>
    public IReadOnlyList<string> Others { get; init; } = [];

    /// <summary>Whether sources say different maps.</summary>
    public bool MapsDisagree => Maps.Any(m => m.Map != Maps[0].Map);

    /// <summary>Whether a source says another start than the place it lies at.</summary>
    public IEnumerable<MapSource> OtherStarts => Maps.Where(m => m.Start is { } start && Placed[m.Item].Sample is { } at && start != at);
}
