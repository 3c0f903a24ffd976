using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Web.Jobs;

/// <summary>What a comparison with what was sent does.</summary>
public interface IArrivals
{
    /// <summary>Makes a comparison whose files are here, and keeps its report.</summary>
    /// <returns>Its verdict.</returns>
    Task<string> CompareAsync(Guid check, WorkPulse pulse);
}
