using Lyrotrans.Core.Findings;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Workflow.Sounds;

namespace Lyrotrans.Workflow.Intake;

/// <summary>A session read from disk, where its media lie, and what was found on the way.</summary>
public sealed record LoadedSession(Session Session, IMediaFiles Media, IReadOnlyList<Finding> Findings);
