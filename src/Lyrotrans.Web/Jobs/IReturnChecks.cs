using Lyrotrans.Workflow.Running;

namespace Lyrotrans.Web.Jobs;

/// <summary>What a look at files that came back does.</summary>
public interface IReturnChecks
{
    /// <summary>Looks at what waits at a link, and keeps the report.</summary>
    /// <returns>What came of it, in words.</returns>
    Task<string> LookAsync(Guid check, WorkPulse pulse);
}
