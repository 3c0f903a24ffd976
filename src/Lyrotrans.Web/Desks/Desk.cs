using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Desks;

/// <summary>A transfer opened at the revision in force, for one engineer.</summary>
public sealed record Desk(Transfer Transfer, Room Room, Account Engineer, Revision? Revision, IntakeState Intake, Session Session, Preparation Preparation)
{
    public Guid Id => Transfer.Id;

    public bool IsEmpty => Revision is null;
}
