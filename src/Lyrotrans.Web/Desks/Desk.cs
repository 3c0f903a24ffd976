using Lyrotrans.Core.Preparing;
using Lyrotrans.Core.Receiving;
using Lyrotrans.Core.Sessions;
using Lyrotrans.Storage.Model;
using Lyrotrans.Storage.Store;
using Lyrotrans.Workflow.Intake;

namespace Lyrotrans.Web.Desks;

/// <summary>A transfer opened at the revision in force, for one engineer, who looks at one of its receivers.</summary>
/// <param name="Receiver">One of the receivers.</param>
/// <param name="Media">What its room brought in; no other file is there.</param>
public sealed record Desk(Transfer Transfer, Room Room, Account Engineer, Revision? Revision, IntakeState Intake, Session Session, ReceiverList Receivers, Receiver Receiver, RoomMedia Media)
{
    public Guid Id => Transfer.Id;

    /// <summary>What was decided for the receiver.</summary>
    public Preparation Preparation => Receiver.Preparation;

    /// <summary>What is behind the address of a page that shows this receiver; nothing for the first.</summary>
    public string Query => Receiver == Receivers.First ? string.Empty : $"?to={Receiver.Id}";

    public bool IsEmpty => Revision is null;
}
