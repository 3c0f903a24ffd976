using System.Collections.Concurrent;
using Lyrotrans.Core.Delivering;
using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Workflow.Build;

/// <summary>Adds up how far the files of a build are, from any thread.</summary>
internal sealed class BuildReport(DeliveryPlan plan, Action<WorkProgress> report)
{
    private readonly ConcurrentDictionary<string, double> _parts = new();
    private readonly Lock _lock = new();

    /// <summary>A file is so far, from 0 to 1; one that is made first and copied then never goes back.</summary>
    public void At(PlannedFile file, double part)
    {
        lock (_lock)
        {
            _parts.AddOrUpdate(file.Path, part * file.Bytes, (_, before) => Math.Max(before, part * file.Bytes));
            report(new WorkProgress(Math.Min(1, _parts.Values.Sum() / Math.Max(1, plan.Bytes)), $"writing {Path.GetFileName(file.Path)}"));
        }
    }

    public void Finish() => report(new WorkProgress(1, "finished"));
}
