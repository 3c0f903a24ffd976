using Lyrotrans.Core.Errors;
using Lyrotrans.Core.Findings;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Web.Incoming;

/// <summary>What was to be made does not fit into its room or onto the disk; nothing was kept of it.</summary>
public sealed class NoRoomException(string words) : Exception(words), ISaid
{
    public Finding Finding => new(WorkCodes.NoRoom, string.Empty, Message);
}
