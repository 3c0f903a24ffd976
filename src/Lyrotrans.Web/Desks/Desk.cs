using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Desks;

/// <summary>A transfer opened at the revision in force, for one engineer.</summary>
/// <param name="Media">What its room brought in; no other file is there.</param>
public sealed record Desk(Transfer Transfer, Room Room, Account Engineer, Revision? Revision, IntakeState Intake, Session Session, Preparation Preparation, RoomMedia Media)
{
    public Guid Id => Transfer.Id;

    public bool IsEmpty => Revision is null;
}
