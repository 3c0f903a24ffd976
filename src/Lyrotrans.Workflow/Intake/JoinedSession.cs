using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Workflow.Intake;

/// <summary>The one session that all sources make, where each came to lie and why, and what is missing.</summary>
public sealed record JoinedSession(
    Session Session, IReadOnlyDictionary<string, PlacedItem> Placed, IReadOnlyList<MissingMedia> Missing, IReadOnlyList<string> Findings);
