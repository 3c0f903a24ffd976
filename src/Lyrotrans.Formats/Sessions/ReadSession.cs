using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;

namespace Lyrotrans.Formats.Sessions;

/// <summary>A session as a document says it.</summary>
/// <param name="Session">With media as they are described; whether they are there is not known yet.</param>
/// <param name="Findings">What was met and could not be used, and what had to give way.</param>
/// <param name="Media">By identifier, what the document knows of its media.</param>
/// <param name="Comments">Words about the composition, by name; also those that we wrote for our own proof.</param>
/// <param name="KnowsChannels">Whether it says how many channels its media have; where not, a clip takes all that are found.</param>
public sealed record ReadSession(
    Session Session,
    IReadOnlyList<Finding> Findings,
    IReadOnlyDictionary<string, DocumentMedia> Media,
    IReadOnlyDictionary<string, string> Comments,
    bool KnowsChannels = true);
