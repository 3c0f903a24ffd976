using Lyrotrans.Core.Arriving;
using Lyrotrans.Workflow.Intake;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Arriving;

/// <summary>Compares what the other side has with what was sent.</summary>
public static class Arrival
{
    /// <param name="sent">What was sent, with its sound where it is here.</param>
    /// <param name="found">What the other side wrote of it, with its sound where it came along.</param>
    /// <param name="report">Told how far it is.</param>
    /// <param name="stop">Heeded all along.</param>
    public static ArrivalReport Compare(LoadedSession sent, LoadedSession found, Action<WorkProgress> report, CancellationToken stop) =>
        ArrivalComparison.Compare(sent.Session, found.Session, ArrivalSounds.Origins(sent, found, f => report(new WorkProgress(f, "comparing sound")), stop));
}
